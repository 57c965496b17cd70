import fc from 'fast-check';
import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { c4Id, chainXml, hashListName, hashListXml, xmlText } from '#core/5-answers/copies/hash-list.ts';
import { parseToldTime, readToldTime, toldTimeFault } from '#core/5-answers/copies/told-time.ts';
import { hopOf } from '#core/2-trade/links/connection.ts';
import { madeSizes } from '#core/3-jobs/recipes/file-sizes.ts';

describe('a hash list', () => {
  const file = (path: string) => ({
    path,
    bytes: 4,
    modifiedAt: '2026-03-02T13:00:00+00:00',
    xxh64: 'ef46db3751d8e999',
  });

  it('identifies itself as the standard does: the C4 of no bytes at all', () => {
    expect(c4Id(createHash('sha512').digest())).toBe(
      'c459dsjfscH38cYeXXYogktxf4Cd9ibshE3BHUo6a58hBXmRQdZrAkZzsWcbWtDg5oQstpDuni4Hirj75GEmTc1sFT',
    );
    expect(chainXml('0001_A.mhl', 'c4x')).toMatch(/<path>0001_A.mhl<\/path>\s*<c4>c4x<\/c4>/);
    expect(hashListName('A001', '2026-03-02T18:15:09+00:00')).toBe('0001_A001_2026-03-02_181509Z.mhl');
  });

  it('lists each file once, in order, with what was done to it', () => {
    const head = { createdAt: '2026-03-02T18:15:09+00:00', host: 'lowlight <1>', toolVersion: '0.1.0' };
    const text = hashListXml(head, [file('b/two.mov'), file('a & b.mov')]);
    expect(text.indexOf('a &amp; b.mov')).toBeLessThan(text.indexOf('b/two.mov'));
    // The first list of a folder is its original one; later lists verify against it.
    expect(text.match(/<xxh64 action="original"/g)).toHaveLength(2);
    expect(text).toContain('<hostname>lowlight &lt;1&gt;</hostname>');
  });

  it('holds any name as text that leads back to it', () => {
    const back = (text: string) =>
      text
        .replace(/&#(\d+);/g, (_, code: string) => String.fromCharCode(Number(code)))
        .replace(/&lt;/g, '<')
        .replace(/&gt;/g, '>')
        .replace(/&quot;/g, '"')
        .replace(/&amp;/g, '&');
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (name) => {
        const text = xmlText(name);
        expect(text).not.toMatch(/[<>"\n]/);
        fc.pre(![...name].some((sign) => sign < ' ' && !'\t\n\r'.includes(sign)));
        expect(back(text)).toBe(name);
      }),
    );
    expect(xmlText('a\u0000b\uffff')).toBe('a\ufffdb\ufffd');
  });
});

describe('a time that was told', () => {
  it.each([
    ['173 GB in 2:08', 173e9, 128],
    ['64 GB in 9 min', 64e9, 540],
    ['1.2 TB in 1:02:30', 1.2e12, 3750],
    ['500MB in 2.5 s', 500e6, 2.5],
  ])('%s is a size and a time', (text, bytes, seconds) => {
    expect(parseToldTime(text)).toEqual({ bytes, seconds });
    expect(toldTimeFault(text)).toBeNull();
  });

  it.each(['', '173 GB', '173 GB in', 'in 2:08', '0 GB in 2:08', '173 GB in 0:00', '10 gb in 2:08'])(
    '“%s” is refused with a sentence',
    (text) => expect(toldTimeFault(text)).toMatch(/^told: /),
  );

  it('comes to a rate, fits a link, and is doubted where nothing could carry it', () => {
    const told = readToldTime(parseToldTime('173 GB in 2:08'));
    expect(told.bytesPerSecond / 1e9).toBeCloseTo(1.3516, 3);
    expect(told.tooSlowLink!.bytesPerSecond).toBeLessThan(told.bytesPerSecond);
    expect(told.leastLink!.bytesPerSecond * 1.05).toBeGreaterThanOrEqual(told.bytesPerSecond);
    expect(told.doubts).toEqual([]);
    const behind = (linkId: string, best: number | null) =>
      readToldTime({ bytes: 173e9, seconds: 128 }, [
        { label: 'Cormorant', hops: [hopOf(linkId)!], bestBytesPerSecond: best },
      ]).doubts;
    expect(behind('usb-10', null)).toEqual([expect.stringMatching(/^Impossible over USB 10 Gb\/s of Cormorant/)]);
    expect(behind('usb-20', 1e9)).toEqual([expect.stringMatching(/^Faster than Cormorant was ever measured/)]);
    expect(behind('usb-20', 2e9)).toEqual([]);
    expect(readToldTime({ bytes: 4e9, seconds: 2 }).doubts[0]).toMatch(/fit into memory/);
    expect(readToldTime({ bytes: 1e15, seconds: 1 })).toMatchObject({ leastLink: null });
    // The program's own prediction and the room of the target speak against it too.
    const known = (predictedSeconds: number | null, roomBytes: number | null) =>
      readToldTime(parseToldTime('173 GB in 2:08'), [], {
        predictedSeconds,
        target: { label: 'Jetty', roomBytes },
      }).doubts.map((doubt) => doubt.replaceAll('\u202f', ' '));
    expect(known(64_980, 100e9)).toEqual([
      '173 GB do not fit on Jetty: 100 GB can be used there.',
      'By their own runs it takes 18 h 3 min, 508 times as long.',
    ]);
    expect(known(60, null)).toEqual(['By their own runs it takes 1 min: something held that copy back.']);
    expect(known(140, 200e9)).toEqual([]);
  });
});

describe('made files', () => {
  it('come to exactly the bytes asked for, in any spread', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1e6, max: 1e12 }),
        fc.integer({ min: 1, max: 400 }),
        fc.constantFrom('even' as const, 'photo' as const, 'project' as const),
        (bytes, files, spread) => {
          const sizes = madeSizes(bytes, files, spread);
          expect(sizes).toHaveLength(files);
          expect(sizes.reduce((sum, size) => sum + size, 0)).toBe(bytes);
          expect(sizes.every((size) => size >= 0)).toBe(true);
        },
      ),
    );
    const project = madeSizes(1e9, 1000, 'project').sort((a, b) => b - a);
    // A few large files hold most of a project's bytes.
    expect(project.slice(0, 100).reduce((sum, size) => sum + size, 0)).toBeGreaterThan(0.6e9);
    expect(new Set(madeSizes(1000, 10, 'even'))).toEqual(new Set([100]));
  });
});
