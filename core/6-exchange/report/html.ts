import type { Block, PartContent, Words } from '#core/6-exchange/report/blocks.ts';
import { beginsWithTitle, shownParts, titleOf, type ComposedReport } from '#core/6-exchange/report/composed.ts';
import {
  PAPER_COLOUR,
  REPORT_INKS,
  pointsText,
  type Drawing,
  type Mark,
} from '#core/6-exchange/report/drawings/drawing.ts';

/** The element of a report's web page that holds the report itself. */
export const EMBEDDED_ID = 'tavrox-report';

/** Width of pictures, in the points of a page of A4. */
const DRAWN_WIDTH = 471;

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** A text in which nothing is markup, whatever people named their drives. */
export const escaped = (text: string): string => text.replace(/[&<>"']/g, (letter) => ESCAPES[letter]!);

/**
 * A report as one web page that needs nothing else: no script, no font, no picture from elsewhere.
 * @param packed the report itself as JSON, by gzip and in base 64, so that it can be opened in another Tavrox
 */
export function reportHtml(composed: ComposedReport, packed: string): string {
  const { report, head } = composed;
  const parts = shownParts(composed);
  const title = titleOf(report);
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<meta name="generator" content="Tavrox">
<title>${escaped(title)}</title>
<style>${STYLE}</style>
</head>
<body>
<main>
<p class="head">${escaped(head)}</p>
${beginsWithTitle(composed) ? '' : `<h1>${escaped(title)}</h1>`}
${parts.map(partHtml).join('\n')}
<p class="head">Made with Tavrox. The report with all that it rests on is in this file: open it in Tavrox to judge anew.</p>
</main>
<script type="application/gzip" id="${EMBEDDED_ID}">${packed}</script>
</body>
</html>
`;
}

const partHtml = ({ blocks }: PartContent): string => `<section>${blocks.map(blockHtml).join('\n')}</section>`;

function blockHtml(block: Block): string {
  switch (block.kind) {
    case 'question':
      return `<h1>${escaped(block.text)}</h1>`;
    case 'lead':
      return `<p class="lead">${wordsHtml(block.words)}</p>`;
    case 'heading':
      return `<h2>${escaped(block.text)}</h2>`;
    case 'words':
      return `<p>${wordsHtml(block.words)}</p>`;
    case 'remark':
      return `<blockquote>${escaped(block.text).replaceAll('\n', '<br>')}</blockquote>`;
    case 'list':
      return `<ul>${block.items.map((item) => `<li>${escaped(item)}</li>`).join('')}</ul>`;
    case 'table': {
      const kind = (at: number) => (block.columns[at]!.isNumber ? ' class="number"' : '');
      const heads = block.columns.map(({ name }, at) => `<th scope="col"${kind(at)}>${escaped(name)}</th>`);
      const rows = block.rows.map(
        (cells) => `<tr>${cells.map((cell, at) => `<td${kind(at)}>${wordsHtml([cell])}</td>`).join('')}</tr>`,
      );
      return `<div class="wide"><table><thead><tr>${heads.join('')}</tr></thead><tbody>${rows.join('')}</tbody></table></div>`;
    }
    case 'drawing':
      return drawingSvg(block.drawing);
  }
}

const wordsHtml = (words: readonly Words[]): string =>
  words
    .map(({ text, isBold, ink }) => {
      const coloured = ink ? `<span class="${ink}">${escaped(text)}</span>` : escaped(text);
      return isBold ? `<b>${coloured}</b>` : coloured;
    })
    .join('');

function drawingSvg({ height, says, draw }: Drawing): string {
  const marks = draw(DRAWN_WIDTH).map(markSvg).join('');
  return `<svg viewBox="0 0 ${DRAWN_WIDTH} ${height}" role="img" aria-label="${escaped(says)}">${marks}</svg>`;
}

function markSvg(mark: Mark): string {
  const colour = REPORT_INKS[mark.ink];
  if (mark.kind === 'text') {
    const bold = mark.isBold ? ' font-weight="700"' : '';
    return `<text x="${mark.x.toFixed(2)}" y="${mark.y.toFixed(2)}" font-size="${mark.size}" fill="${colour}" text-anchor="${mark.anchor}"${bold}>${escaped(mark.text)}</text>`;
  }
  const points = pointsText(mark.points);
  if (mark.kind === 'area') return `<polygon points="${points}" fill="${colour}" fill-opacity="${mark.opacity}"/>`;
  const dash = mark.dash ? ` stroke-dasharray="${mark.dash.join(' ')}"` : '';
  return `<polyline points="${points}" fill="none" stroke="${colour}" stroke-width="${mark.width}"${dash}/>`;
}

const INK_STYLES = Object.entries(REPORT_INKS)
  .map(([name, colour]) => `.${name}{color:${colour}}`)
  .join('');

const STYLE = `
body{margin:0;background:#efece6;color:${REPORT_INKS.text};font:16px/1.45 'Atkinson Hyperlegible Next','Atkinson Hyperlegible',system-ui,sans-serif;font-variant-numeric:tabular-nums}
main{max-width:46rem;margin:2rem auto;padding:2.5rem 3rem;background:${PAPER_COLOUR}}
.head{color:${REPORT_INKS.second};font-size:.85rem}
h1{font-size:1.75rem;line-height:1.25;margin:1rem 0 .6rem}
h2{font-size:1.05rem;margin:1.8rem 0 .4rem}
p{margin:.5rem 0}
.lead{font-size:1.15rem}
ul{margin:.4rem 0;padding-left:1.2rem}
li{margin:.25rem 0}
.wide{overflow-x:auto}
table{border-collapse:collapse;width:100%;font-size:.92rem;margin:.8rem 0}
th,td{text-align:left;vertical-align:top;padding:.3rem .8rem .3rem 0;border-bottom:1px solid ${REPORT_INKS.grid};font-weight:400}
th{color:${REPORT_INKS.second};border-bottom-color:${REPORT_INKS.rule}}
.number{text-align:right;padding-right:0;padding-left:.8rem}
svg{display:block;width:100%;margin:1rem 0;font-family:inherit}
blockquote{margin:.7rem 0;padding-left:.8rem;border-left:2px solid ${REPORT_INKS.rule};color:${REPORT_INKS.second}}
${INK_STYLES}
@media (max-width:40rem){main{margin:0;padding:1.2rem}}
@media print{body{background:none}main{margin:0;padding:0;max-width:none}}
`;
