import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { openSync, type Font } from 'fontkit';

/**
 * Writes the widths of the report's typeface, so that pages break alike wherever they are laid out: in the server, in the
 * command line, in tests.
 */
const root = join(import.meta.dirname, '..');
const FILES = join(root, 'node_modules', '@fontsource', 'atkinson-hyperlegible-next', 'files');
const SUBSETS = ['latin', 'latin-ext'];

function widthsOf(weight: number): Map<number, number> {
  const widths = new Map<number, number>();
  for (const subset of SUBSETS) {
    const file = `atkinson-hyperlegible-next-${subset}-${weight}-normal.woff`;
    const font = openSync(join(FILES, file)) as Font;
    for (const code of font.characterSet) {
      if (code < 0x20 || code > 0xfffd || widths.has(code) || !font.hasGlyphForCodePoint(code)) continue;
      const [glyph] = font.layout(String.fromCodePoint(code), ['tnum']).glyphs;
      widths.set(code, Math.round((glyph!.advanceWidth / font.unitsPerEm) * 1000));
    }
  }
  return widths;
}

const [regular, bold] = [widthsOf(400), widthsOf(700)];
const codes = [...regular.keys()].filter((code) => bold.has(code)).sort((a, b) => a - b);
const list = (widths: Map<number, number>) => JSON.stringify(codes.map((code) => widths.get(code)));
writeFileSync(
  join(root, 'core', '6-exchange', 'report', 'pages', 'type-metrics.ts'),
  `/** Made by scripts/type-metrics.ts from Atkinson Hyperlegible Next: characters, and their widths in thousandths of the size. */
// prettier-ignore
export const CODES: readonly number[] = ${JSON.stringify(codes)};
// prettier-ignore
export const REGULAR: readonly number[] = ${list(regular)};
// prettier-ignore
export const BOLD: readonly number[] = ${list(bold)};
`,
);
