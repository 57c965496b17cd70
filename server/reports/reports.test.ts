import { deflateSync, gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { composedReport, pagesOf } from '#core/6-exchange/report/composed.ts';
import { asItLeaves } from '#core/6-exchange/report/private.ts';
import type { Report } from '#core/6-exchange/report/report.ts';
import { SECRETS, reportOf } from '#core/testing/report-of.ts';
import { readReport } from '#server/reports/read-back.ts';
import { REPORT_FORMS, formOf, writtenReport } from '#server/reports/written.ts';

const pages = (report: Report) => pagesOf(composedReport(report));

describe('a report as a file', () => {
  it.each(['pdf', 'html', 'json'] as const)('is read back from %s and says the same', async (form) => {
    const report = reportOf();
    const read = readReport(await writtenReport(report, form), 'file');
    expect(read).toEqual(asItLeaves(report));
    expect(pages(read)).toEqual(pages(asItLeaves(report)));
  });

  it('holds nothing that is not for others, packed or not', async () => {
    for (const form of REPORT_FORMS) {
      const file = await writtenReport(reportOf(), form);
      const text =
        form === 'csv' ? file.toString() : `${file.toString('latin1')}${JSON.stringify(readReport(file, 'file'))}`;
      for (const secret of Object.values(SECRETS)) expect(text).not.toContain(secret);
    }
  });

  it('is the same PDF from the same report, with its typeface in it and as many pages as are shown', async () => {
    const report = reportOf({ byWhom: 'Škoda Łódź, 北京' });
    const [first, second] = [await writtenReport(report, 'pdf'), await writtenReport(report, 'pdf')];
    expect(first.equals(second)).toBe(true);
    const text = first.toString('latin1');
    // Regular and bold, and the second part of the typeface for Š, Ł and ź.
    expect(text.match(/\/FontFile2/g)!.length).toBe(3);
    expect(text.match(/\/Type \/Page\b(?!s)/g)!.length).toBe(pages(asItLeaves(report)).length);
    expect(text).toContain('/StructTreeRoot');
    expect(text).toContain('/Lang (en)');
  });

  it('has the form that its name says', () => {
    expect(formOf('/tmp/Night shoot.PDF')).toBe('pdf');
    expect(() => formOf('x.docx')).toThrow('.pdf, .html, .csv and .json');
  });
});

describe('a file that is none of ours', () => {
  const pdfWith = (dictionary: string, data: Buffer) =>
    Buffer.concat([
      Buffer.from(
        `%PDF-1.7\n8 0 obj\n<<\n/Type /EmbeddedFile\n/Subtype /application#2Fjson\n${dictionary}\n>>\nstream\n`,
      ),
      data,
      Buffer.from('\nendstream\nendobj\n'),
    ]);
  const bomb = deflateSync(Buffer.alloc(201e6, 32));
  const cases: [string, Buffer, string][] = [
    ['nothing', Buffer.alloc(0), 'there is no report in it'],
    ['words', Buffer.from('hello'), 'there is no report in it'],
    ['another PDF', Buffer.from('%PDF-1.7\n%%EOF'), 'no report is attached'],
    [
      'an attachment that is cut off',
      pdfWith('/Length 900\n/Filter /FlateDecode', Buffer.from('x')),
      'no report is attached',
    ],
    [
      'an attachment that becomes too large',
      pdfWith(`/Length ${bomb.length}\n/Filter /FlateDecode`, bomb),
      'no report is attached',
    ],
    ['an attachment that is no report', pdfWith('/Length 13', Buffer.from('{"tavrox": 1}')), 'no document of Tavrox'],
    [
      'a web page that becomes too large',
      Buffer.from(
        `<script type="application/gzip" id="tavrox-report">${gzipSync(Buffer.alloc(201e6, 32)).toString('base64')}</script>`,
      ),
      'there is no report in it',
    ],
    ['a web page without it', Buffer.from('<script id="tavrox-report">%%%</script>'), 'there is no report in it'],
    ['half a document', Buffer.from('{"tavrox": "report/1"'), 'JSON'],
    ['another document', Buffer.from('{"tavrox": "run/1"}'), 'this is a run, and not a report'],
  ];

  it.each(cases)('is refused in a sentence: %s', (_what, file, words) => {
    expect(() => readReport(file, 'x.pdf')).toThrow(words);
    expect(() => readReport(file, 'x.pdf')).toThrow('x.pdf');
  });
});
