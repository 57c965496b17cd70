import type { Block, Words } from '#core/6-exchange/report/blocks.ts';
import type { Mark } from '#core/6-exchange/report/drawings/drawing.ts';
import { linesOf, widthOf, printable, type Line } from '#core/6-exchange/report/pages/type.ts';
import type { Paper } from '#core/6-exchange/report/report.ts';

/** What a group of marks is, for those who have a page read to them. */
export type Role = 'title' | 'heading' | 'paragraph' | 'list' | 'table' | 'figure' | 'furniture';

export interface PageGroup {
  role: Role;
  /** Of figures: what they show. */
  says?: string;
  /** The part of the report that it belongs to; null for what stands on every page. */
  partId: string | null;
  /** Number of the block in its part. */
  block: number;
  marks: Mark[];
}

/** A page as it is printed. Points from the upper left corner. */
export interface Page {
  width: number;
  height: number;
  groups: PageGroup[];
}

/** ISO 216, and ANSI A. */
const SIZES: Record<Paper, { width: number; height: number }> = {
  a4: { width: 595.28, height: 841.89 },
  letter: { width: 612, height: 792 },
};
const SIDE = 62;
const TOP = 60;
const BOTTOM = 62;

/** Sizes of letters and the lines they stand on, points. */
const TYPE = {
  furniture: { size: 8.5, leading: 12 },
  question: { size: 19, leading: 24 },
  lead: { size: 12, leading: 17 },
  heading: { size: 10.5, leading: 14 },
  body: { size: 9.5, leading: 13.5 },
  table: { size: 8.8, leading: 12 },
} as const;
type TypeName = keyof typeof TYPE;

/** Something that is not parted by the end of a page. */
interface Atom {
  role: Role;
  says?: string;
  partId: string;
  /** Atoms of one block become one group. */
  block: number;
  height: number;
  /** Space above, unless it stands first on its page. */
  above: number;
  /** Must not be the last on its page. */
  keepsNext: boolean;
  /** Repeated above it where it begins a page: the head of its table. */
  head?: Atom;
  draw: (left: number, top: number) => Mark[];
}

export interface PartBlocks {
  partId: string;
  blocks: readonly Block[];
}

/** Words that stand above the first page, and at the foot of every one. */
export interface Furniture {
  head: string;
  foot: string;
}

/** Parts of a report on pages. */
export function layOut(parts: readonly PartBlocks[], paper: Paper, { head, foot }: Furniture): Page[] {
  const { width, height } = SIZES[paper];
  const column = width - 2 * SIDE;
  const atoms = parts.flatMap(({ partId, blocks }) =>
    blocks.flatMap((block, index) => atomsOf(block, index, partId, column)),
  );
  const pages: Page[] = [];
  let y = TOP;
  const newPage = () => {
    pages.push({ width, height, groups: [] });
    y = TOP;
  };
  newPage();
  if (head !== '') {
    const lines = linesOf([{ text: head, ink: 'second' }], TYPE.furniture.size, column);
    pages[0]!.groups.push({
      role: 'paragraph',
      partId: null,
      block: 0,
      marks: linesMarks(lines, 'furniture', SIDE, y),
    });
    y += lines.length * TYPE.furniture.leading + 14;
  }
  let isFirst = true;
  atoms.forEach((atom, index) => {
    const above = isFirst ? 0 : atom.above;
    // What must not be last takes the beginning of what follows with it.
    let needed = above + atom.height;
    for (let next = index; atoms[next]!.keepsNext && atoms[next + 1]; next += 1) {
      needed += atoms[next + 1]!.above + atoms[next + 1]!.height;
    }
    const room = height - BOTTOM - y;
    if (needed > room && !isFirst && (above + atom.height > room || needed <= height - TOP - BOTTOM)) {
      newPage();
      if (atom.head) {
        place(pages.at(-1)!, atom.head, y);
        y += atom.head.height;
      }
    } else {
      y += above;
    }
    place(pages.at(-1)!, atom, y);
    y += atom.height;
    isFirst = false;
  });
  pages.forEach((page, index) => page.groups.push(footOf(page, foot, index + 1, pages.length)));
  return pages;
}

function place(page: Page, { role, says, partId, block, draw }: Atom, y: number): void {
  const marks = draw(SIDE, y);
  const last = page.groups.at(-1);
  if (last?.partId === partId && last.block === block && last.role === role) last.marks.push(...marks);
  else page.groups.push({ role, partId, block, marks, ...(says === undefined ? {} : { says }) });
}

function footOf({ width, height }: Page, foot: string, page: number, pages: number): PageGroup {
  const y = height - 36;
  const text = (x: number, words: string, anchor: 'start' | 'end'): Mark => ({
    kind: 'text',
    x,
    y,
    text: printable(words),
    size: TYPE.furniture.size,
    ink: 'second',
    anchor,
  });
  const [line] = linesOf([{ text: foot }], TYPE.furniture.size, width - 2 * SIDE - 70);
  const words = line?.segments.map((one) => one.text).join('') ?? '';
  return {
    role: 'furniture',
    partId: null,
    block: 0,
    marks: [text(SIDE, words, 'start'), text(width - SIDE, `page ${page} of ${pages}`, 'end')],
  };
}

function linesMarks(
  lines: readonly Line[],
  type: TypeName,
  left: number,
  top: number,
  width: number | null = null,
): Mark[] {
  const { size, leading } = TYPE[type];
  return lines.flatMap((line, index) =>
    line.segments.map(({ x, text, isBold, ink }): Mark => ({
      kind: 'text',
      // Ends at the right edge where a width is given.
      x: left + x + (width === null ? 0 : width - line.width),
      y: top + index * leading + 0.78 * leading,
      text,
      size,
      ink,
      anchor: 'start',
      ...(isBold ? { isBold } : {}),
    })),
  );
}

/** Paragraphs of more lines than this may be parted. */
const WHOLE_LINES = 6;

function atomsOf(block: Block, index: number, partId: string, column: number): Atom[] {
  const of = { partId, block: index };
  switch (block.kind) {
    case 'question':
      return paragraph([{ text: block.text, isBold: true }], 'question', column, {
        ...of,
        role: 'title',
        above: 22,
        keepsNext: true,
      });
    case 'lead':
      return paragraph(block.words, 'lead', column, { ...of, role: 'paragraph', above: 10, keepsNext: false });
    case 'heading':
      return paragraph([{ text: block.text, isBold: true }], 'heading', column, {
        ...of,
        role: 'heading',
        above: 18,
        keepsNext: true,
      });
    case 'words':
      return paragraph(block.words, 'body', column, { ...of, role: 'paragraph', above: 6, keepsNext: false });
    case 'remark':
      return remark(block.text, column, of);
    case 'list':
      return block.items.flatMap((item) => listItem(item, column, of));
    case 'table':
      return tableAtoms(block, column, of);
    case 'drawing': {
      const { drawing } = block;
      return [
        {
          ...of,
          role: 'figure',
          says: drawing.says,
          height: drawing.height,
          above: 12,
          keepsNext: false,
          draw: (left, top) => drawing.draw(column).map((mark) => moved(mark, left, top)),
        },
      ];
    }
  }
}

type Setting = Pick<Atom, 'partId' | 'block' | 'role' | 'above' | 'keepsNext'>;

function paragraph(words: readonly Words[], type: TypeName, column: number, setting: Setting): Atom[] {
  const lines = linesOf(words, TYPE[type].size, column);
  const { leading } = TYPE[type];
  const atom = (some: readonly Line[], above: number): Atom => ({
    ...setting,
    above,
    height: some.length * leading,
    draw: (left, top) => linesMarks(some, type, left, top),
  });
  if (lines.length <= WHOLE_LINES) return [atom(lines, setting.above)];
  // Two lines at either end stay together.
  const middle = lines.slice(2, -2).map((line) => atom([line], 0));
  return [atom(lines.slice(0, 2), setting.above), ...middle, atom(lines.slice(-2), 0)];
}

function remark(text: string, column: number, of: Pick<Atom, 'partId' | 'block'>): Atom[] {
  const lines = text
    .split(/\n+/)
    .flatMap((one) => linesOf([{ text: one, ink: 'second' }], TYPE.body.size, column - 12));
  const { leading } = TYPE.body;
  return lines.map((line, index) => ({
    ...of,
    role: 'paragraph',
    above: index === 0 ? 8 : 0,
    height: leading,
    keepsNext: false,
    draw: (left, top) => [
      { kind: 'line', points: [left + 2, top, left + 2, top + leading], ink: 'rule', width: 1.6 },
      ...linesMarks([line], 'body', left + 12, top),
    ],
  }));
}

function listItem(text: string, column: number, of: Pick<Atom, 'partId' | 'block'>): Atom[] {
  return paragraph([{ text }], 'body', column - 12, {
    ...of,
    role: 'list',
    above: 4,
    keepsNext: false,
  }).map((atom, index) => ({
    ...atom,
    draw: (left, top) => [
      ...(index === 0
        ? [
            {
              kind: 'line' as const,
              points: [left + 1, top + 6.6, left + 6, top + 6.6],
              ink: 'second' as const,
              width: 0.9,
            },
          ]
        : []),
      ...atom.draw(left + 12, top),
    ],
  }));
}

const CELL_GAP = 8;

function tableAtoms(
  { columns, rows }: Extract<Block, { kind: 'table' }>,
  column: number,
  of: Pick<Atom, 'partId' | 'block'>,
): Atom[] {
  const weights = columns.map(({ weight = 1 }) => weight);
  const sum = weights.reduce((all, one) => all + one, 0);
  const widths = weights.map((weight) => (weight / sum) * column);
  const { leading, size } = TYPE.table;
  const rowAtom = (cells: readonly Words[], rule: 'rule' | 'grid'): Atom => {
    const lines = cells.map((cell, at) => linesOf([cell], size, widths[at]! - (at < cells.length - 1 ? CELL_GAP : 0)));
    const height = Math.max(...lines.map((one) => one.length)) * leading + 6;
    return {
      ...of,
      role: 'table',
      above: 0,
      height,
      keepsNext: false,
      draw(left, top) {
        let x = left;
        const marks = lines.flatMap((cell, at) => {
          const isNumber = columns[at]!.isNumber ?? false;
          // The first column of numbers ends with a gap before the next, the last at the edge.
          const inner = widths[at]! - (at < lines.length - 1 ? CELL_GAP : 0);
          const placed = cell.flatMap((line, index) =>
            linesMarks([line], 'table', x, top + 3 + index * leading, isNumber ? inner : null),
          );
          x += widths[at]!;
          return placed;
        });
        return [
          ...marks,
          { kind: 'line', points: [left, top + height, left + column, top + height], ink: rule, width: 0.6 },
        ];
      },
    };
  };
  const head = rowAtom(
    columns.map(({ name }) => ({ text: name, ink: 'second' as const })),
    'rule',
  );
  return [{ ...head, above: 10, keepsNext: true }, ...rows.map((cells) => ({ ...rowAtom(cells, 'grid'), head }))];
}

/** A mark elsewhere on the page. */
function moved(mark: Mark, left: number, top: number): Mark {
  if (mark.kind === 'text') return { ...mark, text: printable(mark.text), x: mark.x + left, y: mark.y + top };
  return { ...mark, points: mark.points.map((at, index) => at + (index % 2 === 0 ? left : top)) };
}

/** Left end of a text mark, whatever it is anchored by. */
export function textLeft({ x, text, size, isBold, anchor }: Extract<Mark, { kind: 'text' }>): number {
  if (anchor === 'start') return x;
  const width = widthOf(text, size, isBold);
  return anchor === 'end' ? x - width : x - width / 2;
}
