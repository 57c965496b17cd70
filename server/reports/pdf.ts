import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import { pagesOf, titleOf, type ComposedReport } from '#core/6-exchange/report/composed.ts';
import { REPORT_INKS, type Mark } from '#core/6-exchange/report/drawings/drawing.ts';
import { textLeft, type Page, type PageGroup, type Role } from '#core/6-exchange/report/pages/lay-out.ts';
import { EMBEDDED_FILE } from '#server/reports/read-back.ts';

/** Letters that the first part of the typeface lacks are in the second. */
const SUBSETS = ['latin', 'latin-ext'] as const;
const WEIGHTS = { regular: 400, bold: 700 } as const;

const require = createRequire(import.meta.url);

function fontFile(subset: string, weight: number): Buffer {
  const file = `atkinson-hyperlegible-next-${subset}-${weight}-normal.woff`;
  return readFileSync(require.resolve(`@fontsource/atkinson-hyperlegible-next/files/${file}`));
}

/** Tags of PDF (ISO 32000-1, 14.8.4) for what groups of marks are; furniture is none of the text. */
const TAGS: Record<Exclude<Role, 'furniture'>, string> = {
  title: 'H1',
  heading: 'H2',
  paragraph: 'P',
  list: 'L',
  table: 'Table',
  figure: 'Figure',
};

/**
 * A report as a PDF: selectable text, vector pictures with words for those who do not see them, and the report itself
 * attached, so that it can be opened in another Tavrox.
 */
export function reportPdf(composed: ComposedReport): Promise<Buffer> {
  const title = titleOf(composed.report);
  // The same report makes the same file.
  const written = new Date(`${composed.report.date}T12:00:00Z`);
  const document = new PDFDocument({
    autoFirstPage: false,
    margin: 0,
    pdfVersion: '1.7',
    tagged: true,
    displayTitle: true,
    lang: 'en',
    info: {
      Title: title,
      Author: composed.report.byWhom,
      Creator: 'Tavrox',
      Producer: 'Tavrox',
      CreationDate: written,
    },
  });
  const done = new Promise<Buffer>((resolve, reject) => {
    const parts: Buffer[] = [];
    document.on('data', (part: Buffer) => parts.push(part));
    document.on('end', () => resolve(Buffer.concat(parts)));
    document.on('error', reject);
  });
  for (const [name, weight] of Object.entries(WEIGHTS)) {
    for (const subset of SUBSETS) document.registerFont(`${name} ${subset}`, fontFile(subset, weight));
  }
  const letters = lettersOf(document);
  for (const page of pagesOf(composed)) drawPage(document, page, letters);
  document.file(Buffer.from(JSON.stringify(composed.report)), {
    name: EMBEDDED_FILE,
    type: 'application/json',
    description: 'The report with all that it rests on, to be opened in Tavrox',
    creationDate: written,
    modifiedDate: written,
  });
  document.end();
  return done;
}

type Document = InstanceType<typeof PDFDocument>;

/** The letters that are drawn from the first part of the typeface. */
function lettersOf(document: Document): ReadonlySet<number> {
  const { _font } = document.font('regular latin') as unknown as { _font: { font: { characterSet: number[] } } };
  return new Set(_font.font.characterSet);
}

function drawPage(document: Document, { width, height, groups }: Page, letters: ReadonlySet<number>): void {
  document.addPage({ size: [width, height], margin: 0 });
  for (const group of groups) {
    const draw = () => group.marks.forEach((mark) => drawMark(document, mark, letters));
    if (group.role === 'furniture') {
      document.markContent('Artifact', { type: 'Pagination' });
      draw();
      document.endMarkedContent();
    } else {
      document.addStructure(document.struct(TAGS[group.role], wordsFor(group), draw));
    }
  }
}

const wordsFor = ({ says }: PageGroup): { alt?: string } => (says === undefined ? {} : { alt: says });

function drawMark(document: Document, mark: Mark, letters: ReadonlySet<number>): void {
  const colour = REPORT_INKS[mark.ink];
  if (mark.kind === 'text') {
    drawText(document, mark, letters);
    return;
  }
  const [x, y, ...rest] = mark.points as [number, number, ...number[]];
  document.moveTo(x, y);
  for (let at = 0; at < rest.length; at += 2) document.lineTo(rest[at]!, rest[at + 1]!);
  if (mark.kind === 'area') {
    document.closePath().fillOpacity(mark.opacity).fill(colour).fillOpacity(1);
    return;
  }
  if (mark.dash) document.dash(mark.dash[0], { space: mark.dash[1] });
  document.lineWidth(mark.width).lineJoin('round').stroke(colour);
  if (mark.dash) document.undash();
}

/** On one line, on its base line, with figures of one width. */
const SETTING: PDFKit.Mixins.TextOptions = { lineBreak: false, baseline: 'alphabetic', features: ['tnum'] };

function drawText(document: Document, mark: Extract<Mark, { kind: 'text' }>, letters: ReadonlySet<number>): void {
  const weight = mark.isBold ? 'bold' : 'regular';
  let x = textLeft(mark);
  document.fillColor(REPORT_INKS[mark.ink]).fontSize(mark.size);
  for (const stretch of stretchesOf(mark.text, letters)) {
    document.font(`${weight} ${stretch.isFirst ? SUBSETS[0] : SUBSETS[1]}`);
    document.text(stretch.text, x, mark.y, SETTING);
    x += document.widthOfString(stretch.text, SETTING);
  }
}

/** A text parted by which part of the typeface it is drawn from. */
function stretchesOf(text: string, letters: ReadonlySet<number>): { text: string; isFirst: boolean }[] {
  const stretches: { text: string; isFirst: boolean }[] = [];
  for (const letter of text) {
    const isFirst = letters.has(letter.codePointAt(0)!);
    const last = stretches.at(-1);
    if (last && last.isFirst === isFirst) last.text += letter;
    else stretches.push({ text: letter, isFirst });
  }
  return stretches;
}
