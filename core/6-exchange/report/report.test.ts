import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import { csvRows } from '#core/1-ground/csv.ts';
import { changesSince, type KeptNow } from '#core/6-exchange/report/changed.ts';
import { composedReport, pagesOf, shownParts, titleOf } from '#core/6-exchange/report/composed.ts';
import { reportCsv } from '#core/6-exchange/report/csv.ts';
import { reportHtml } from '#core/6-exchange/report/html.ts';
import { layOut, textLeft } from '#core/6-exchange/report/pages/lay-out.ts';
import { linesOf, printable, widthOf } from '#core/6-exchange/report/pages/type.ts';
import { LEFT_OUT, asItLeaves, forOthers } from '#core/6-exchange/report/private.ts';
import { newOutline, withPut, type Put } from '#core/6-exchange/report/put.ts';
import { PAPERS, parseReport, type Report, type ReportOutline } from '#core/6-exchange/report/report.ts';
import type { Block } from '#core/6-exchange/report/blocks.ts';
import { SECRETS, profileFrom, reportOf, steadyRun } from '#core/testing/report-of.ts';

const textOf = (report: Report): string =>
  pagesOf(composedReport(report))
    .flatMap(({ groups }) =>
      groups.flatMap(({ marks }) => marks.flatMap((one) => (one.kind === 'text' ? [one.text] : []))),
    )
    .join(' ')
    .replaceAll('\u00a0', ' ');

describe('a report', () => {
  it('answers the question with the figures that the job itself has', () => {
    const report = parseReport(JSON.parse(JSON.stringify(reportOf())));
    const [demand] = demandsOf(report.documents.workloads[0]!.items[0]!);
    const composed = composedReport(report);
    const verdicts = composed.parts.find(({ partId }) => partId === 'p4')!;
    const figure = (name: string) => verdicts.figures.find((one) => one.name === name)?.value;
    // 1,000 MB/s are carried where 3 × 182.2 are needed.
    expect(figure('needs')).toBeCloseTo(demand!.bytesPerSecond, 6);
    expect(figure('carries')).toBeCloseTo(1e9, -6);
    expect(figure('verdict')).toBe('Holds');
    const text = textOf(report);
    expect(text).toContain('Can the night shoot go to Petrel 2T?');
    expect(text).toMatch(/Yes/);
    expect(text).toContain('83 % to spare');
  });

  it('says what was counted on where the answer rests on it', () => {
    const [asked] = reportOf().asked;
    const unattached = reportOf({ asked: [{ ...asked!, roomBytes: null }] });
    expect(textOf(reportOf())).toContain('4 TB of room were counted');
    expect(textOf(unattached)).toContain('whether there is room for it was not looked at');
    const full = reportOf({ asked: [{ ...asked!, roomBytes: 1e9 }] });
    expect(textOf(full)).toMatch(/No\. +Is full/);
  });

  it('names the document that a part needs and that is not there', () => {
    const report = reportOf();
    expect(() => parseReport({ ...report, documents: { ...report.documents, runs: [] } })).toThrow(
      'part 2 needs the run run-1',
    );
    expect(() => parseReport({ ...report, asked: [] })).toThrow('part 1 needs the question a1');
    expect(() => parseReport({ ...report, date: 'yesterday' })).toThrow('2026-03-12');
  });

  it('holds every part on its pages, on either paper, in the order in which they stand', () => {
    for (const paper of PAPERS) {
      const report = reportOf({ paper });
      const found = pagesOf(composedReport(report)).flatMap(({ groups }) =>
        groups.flatMap(({ partId }) => (partId === null ? [] : [partId])),
      );
      expect([...new Set(found)]).toEqual(report.parts.map(({ id }) => id));
    }
  });

  it('leaves out what is left out, and its documents with it', () => {
    const report = reportOf();
    const shown = { ...report, parts: report.parts.map((one) => ({ ...one, isLeftOut: one.kind === 'build' })) };
    expect(textOf(shown)).not.toContain('To buy');
    const leaves = asItLeaves({ ...shown, isPrivate: false });
    expect(leaves.parts.map(({ id }) => id)).toEqual(['p1', 'p2', 'p3', 'p4', 'p6']);
    expect(leaves.documents.sizings).toEqual([]);
    expect(leaves.documents.runs).toEqual(report.documents.runs);
  });
});

describe('pages', () => {
  const word = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 40 });
  const sentence = fc.array(word, { minLength: 1, maxLength: 60 }).map((words) => words.join(' '));
  const block: fc.Arbitrary<Block> = fc.oneof(
    sentence.map((text): Block => ({ kind: 'heading', text: text.slice(0, 80) })),
    sentence.map((text): Block => ({ kind: 'words', words: [{ text }, { text: ' bold', isBold: true }] })),
    fc.array(sentence, { maxLength: 5 }).map((items): Block => ({ kind: 'list', items })),
    sentence.map((text): Block => ({ kind: 'remark', text })),
    fc.array(fc.tuple(word, word), { maxLength: 30 }).map((rows): Block => ({
      kind: 'table',
      columns: [{ name: 'a' }, { name: 'b', isNumber: true }],
      rows: rows.map((cells) => cells.map((text) => ({ text }))),
    })),
  );

  it('keep everything between their edges, whatever is written', () => {
    fc.assert(
      fc.property(fc.array(block, { maxLength: 20 }), fc.constantFrom(...PAPERS), (blocks, paper) => {
        const pages = layOut([{ partId: 'one', blocks }], paper, { head: 'head', foot: 'foot' });
        for (const { width, height, groups } of pages) {
          for (const { marks } of groups) {
            for (const mark of marks) {
              if (mark.kind !== 'text') continue;
              const left = textLeft(mark);
              expect(left).toBeGreaterThanOrEqual(61);
              expect(left + widthOf(mark.text, mark.size, mark.isBold)).toBeLessThanOrEqual(width - 61);
              expect(mark.y).toBeGreaterThan(40);
              expect(mark.y).toBeLessThan(height - 30);
            }
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it('lose no letter of a paragraph and break it at spaces where there are any', () => {
    fc.assert(
      fc.property(sentence, fc.integer({ min: 60, max: 500 }), (text, width) => {
        const lines = linesOf([{ text }], 10, width);
        const squeezed = (one: string) => one.replaceAll(/ +/g, '');
        const set = lines.map(({ segments }) => segments.map((one) => one.text).join('')).join('');
        expect(squeezed(set)).toBe(squeezed(printable(text)));
        for (const line of lines) expect(line.width).toBeLessThanOrEqual(width + 1e-9);
      }),
    );
  });

  it('repeat the head of a table on each page that it goes on to, and keep headings with what follows', () => {
    const rows = Array.from({ length: 90 }, (_, row) => [{ text: `row ${row}` }, { text: String(row) }]);
    const pages = layOut(
      [{ partId: 'one', blocks: [{ kind: 'table', columns: [{ name: 'Name' }, { name: 'Number' }], rows }] }],
      'a4',
      { head: '', foot: '' },
    );
    const texts = pages.map(({ groups }) =>
      groups.flatMap(({ marks }) => marks.flatMap((one) => (one.kind === 'text' ? [one.text] : []))),
    );
    expect(pages.length).toBeGreaterThan(1);
    for (const page of texts) expect(page.slice(0, 2)).toEqual(['Name', 'Number']);
    expect(texts.flat().filter((text) => text.startsWith('row '))).toHaveLength(90);
    for (let filler = 30; filler < 60; filler += 1) {
      const blocks: Block[] = [
        ...Array.from({ length: filler }, (): Block => ({ kind: 'words', words: [{ text: 'a line' }] })),
        { kind: 'heading', text: 'Heading' },
        { kind: 'words', words: [{ text: 'what follows' }] },
      ];
      const laid = layOut([{ partId: 'one', blocks }], 'a4', { head: '', foot: '' });
      const pageOf = (text: string) =>
        laid.findIndex(({ groups }) =>
          groups.some(({ marks }) => marks.some((one) => one.kind === 'text' && one.text === text)),
        );
      expect(pageOf('Heading')).toBe(pageOf('what follows'));
    }
  });
});

describe('a report for others', () => {
  const everything = (report: Report) => {
    const composed = composedReport(report);
    return [JSON.stringify(report), textOf(report), reportHtml(composed, ''), reportCsv(composed)].join('\n');
  };

  it('says nothing of paths, machines, serial numbers and notes, and all of it when it is not for others', () => {
    const others = everything(asItLeaves(reportOf()));
    for (const secret of Object.values(SECRETS)) expect(others).not.toContain(secret);
    expect(others).not.toMatch(/anna|jonas/i);
    expect(others).toContain(LEFT_OUT);
    const whole = everything(asItLeaves(reportOf({ isPrivate: false })));
    for (const secret of Object.values(SECRETS)) expect(whole).toContain(secret);
  });

  it('says the same of the job: every figure is as it was', () => {
    const figures = (report: Report) => shownParts(composedReport(report)).map((one) => one.figures);
    expect(figures(forOthers(reportOf()))).toEqual(figures(reportOf()));
  });

  it('tells drives apart and knows one by one name in all documents', () => {
    const other = steadyRun('run-2', 500, 100, 'd-other');
    const report = reportOf();
    const more = { ...report.documents, runs: [...report.documents.runs, other, steadyRun('run-3')] };
    const values = forOthers({ ...report, documents: more }).documents.runs.map(({ drive }) => drive.identity.value);
    expect(values[0]).toBe(values[2]);
    expect(values[0]).not.toBe(values[1]);
  });
});

describe('names that people give', () => {
  const HOSTILE = `<img src=x onerror=alert(1)>'"</script><script>alert(2)</script>`;

  it('are no markup in a web page', () => {
    const report = reportOf({ title: HOSTILE, byWhom: HOSTILE, forWhom: HOSTILE });
    const [run] = report.documents.runs;
    const documents = {
      ...report.documents,
      runs: [{ ...run!, drive: { ...run!.drive, label: HOSTILE }, note: HOSTILE }],
      profiles: report.documents.profiles.map((one) => ({ ...one, drive: { ...one.drive, label: HOSTILE } })),
      workloads: report.documents.workloads.map((one) => ({ ...one, name: HOSTILE })),
    };
    const parts = report.parts.map((one) => ({ ...one, remark: HOSTILE }));
    const html = reportHtml(composedReport({ ...report, isPrivate: false, parts, documents }), 'H4sI');
    expect(html).toContain('&lt;img src=x');
    expect(html.match(/<script/g)).toHaveLength(1);
    expect(html).not.toContain('<img');
    // Nothing outside of the file is asked for, and nothing in it is carried out.
    expect(html).toContain("default-src 'none'");
    expect(html.replaceAll('&quot;', '').match(/\b(href|src)=["']?(https?:)?\/\//g)).toBeNull();
  });

  it('are no formulas in a spreadsheet', () => {
    const report = reportOf();
    const documents = {
      ...report.documents,
      profiles: report.documents.profiles.map((one) => ({ ...one, drive: { ...one.drive, label: 'x' } })),
      workloads: report.documents.workloads.map((one) => ({
        ...one,
        items: one.items.map((item) => ({ ...item, name: '=1+1' })),
      })),
    };
    const rows = csvRows(reportCsv(composedReport({ ...report, documents }))).map(({ cells }) => cells[1]!);
    expect(rows.filter((cell) => /^[=+\-@]/.test(cell))).toEqual([]);
    expect(rows.some((cell) => cell.includes('=1+1'))).toBe(true);
  });
});

describe('what is put in', () => {
  const question: Put = {
    kind: 'question',
    question: 'Does it?',
    workloadId: 'w',
    driveId: 'd',
    headroomShare: 0.25,
    roomBytes: null,
  };
  const puts: Put[] = [
    question,
    { kind: 'run', runId: 'r1' },
    { kind: 'run', runId: 'r2' },
    { kind: 'comparison', driveIds: ['a', 'b'] },
    { kind: 'item', workloadId: 'w', itemId: 'i', headroomShare: 0.25, drives: [{ driveId: 'a', roomBytes: null }] },
  ];
  let ids = 0;
  const put = (outline: ReportOutline, one: Put) =>
    withPut(outline, one, { runId: 'r0', isCopy: false, itemKind: 'series' }, () => `n${(ids += 1)}`);
  const ORDER = [
    'answer',
    'run',
    'not-proven',
    'verdicts',
    'comparison',
    'copy',
    'series',
    'load',
    'build',
    'conditions',
  ];

  it('stands where a technical note has it, in whatever order it comes, and once however often', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...puts), { minLength: 1, maxLength: 8 }), (several) => {
        const outline = several.reduce(put, newOutline('r', '2026-03-12'));
        const ranks = outline.parts.map(({ kind }) => ORDER.indexOf(kind));
        expect(ranks).toEqual([...ranks].sort((a, b) => a - b));
        const again = several.reduce(put, outline);
        expect(again.parts.map(({ id }) => id)).toEqual(outline.parts.map(({ id }) => id));
      }),
    );
  });

  it('keeps what was written of it when it is put in again, and asks anew', () => {
    const first = put(newOutline('r', '2026-03-12'), question);
    const written: ReportOutline = {
      ...first,
      asked: [{ ...first.asked[0]!, question: 'Can it?' }],
      parts: first.parts.map((one) => ({ ...one, remark: 'so', isLeftOut: true })),
    };
    const again = put(written, { ...question, headroomShare: 0.5, roomBytes: 7 });
    expect(again.asked).toEqual([{ ...written.asked[0]!, headroomShare: 0.5, roomBytes: 7 }]);
    expect(again.parts.every(({ remark, isLeftOut }) => remark === 'so' && !isLeftOut)).toBe(true);
  });
});

describe('what changed since', () => {
  const report = reportOf();
  const { runs, profiles, workloads } = report.documents;
  const now = (more: Partial<KeptNow> = {}): KeptNow => ({
    runs: new Map(runs.map(({ id }) => [id, { isLeftOut: false }])),
    profiles: new Map(profiles.map((one) => [one.drive.id, one])),
    workloads: new Map(workloads.map((one) => [one.id, one])),
    projects: new Map(),
    ...more,
  });
  const withoutBuild = { ...report, parts: report.parts.filter(({ kind }) => kind !== 'build') };

  it('is nothing where all is as it was', () => {
    expect([...changesSince(withoutBuild, now())]).toEqual([]);
  });

  it('marks a run that is gone or left out', () => {
    expect(
      changesSince(withoutBuild, now({ runs: new Map() }))
        .get('p2')
        ?.join(),
    ).toContain('not among those');
    const leftOut = now({ runs: new Map([['run-1', { isLeftOut: true }]]) });
    expect(changesSince(withoutBuild, leftOut).get('p2')?.join()).toContain('left out');
  });

  it('says so when a newer run contradicts the answer, and only then', () => {
    const withRun = (rate: number) => {
      const newer = profileFrom(steadyRun('run-9', rate));
      const [profile] = profiles;
      return now({ profiles: new Map([['d-petrel', { ...profile!, runs: [...newer.runs, ...profile!.runs] }]]) });
    };
    const slower = changesSince(withoutBuild, withRun(300)).get('p1')!.join(' ');
    expect(slower).toContain('measured again');
    expect(slower).toContain('Breaks, and not Holds');
    expect(changesSince(withoutBuild, withRun(1100)).get('p1')!.join(' ')).not.toContain('and not');
  });

  it('marks a workload and a plan that are others now', () => {
    const [workload] = workloads;
    const more = { ...workload!, items: [] };
    expect(
      changesSince(withoutBuild, now({ workloads: new Map([['night', more]]) }))
        .get('p1')
        ?.join(),
    ).toContain('changed since');
    expect(changesSince(report, now()).get('p5')?.join()).toContain('not among those');
  });
});

describe('its title', () => {
  it('is the question where none was typed', () => {
    expect(titleOf(reportOf())).toBe('Can the night shoot go to Petrel 2T?');
    expect(titleOf(reportOf({ title: 'Night shoot' }))).toBe('Night shoot');
    expect(titleOf(reportOf({ asked: [], parts: [] }))).toBe('Report');
  });
});
