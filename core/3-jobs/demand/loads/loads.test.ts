import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demandsOf } from '#core/3-jobs/demand/items.ts';
import { loadForm } from '#core/3-jobs/demand/loads/load-form.ts';
import type { Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { parsePhase, phaseLine } from '#core/3-jobs/demand/loads/phase-line.ts';
import { LOAD_TEMPLATES } from '#core/3-jobs/demand/loads/templates.ts';

export const anyPhase: fc.Arbitrary<Phase> = fc.record({
  name: fc.constantFrom('Launch', 'Level two', 'Check'),
  processorSeconds: fc.integer({ min: 0, max: 100_000 }).map((ms) => ms / 1000),
  bytes: fc.integer({ min: 4096, max: 1e12 }),
  requestBytes: fc.integer({ min: 12, max: 24 }).map((power) => 2 ** power),
  parallel: fc.integer({ min: 1, max: 64 }),
  operations: fc.integer({ min: 0, max: 1e6 }),
  overlapShare: fc.integer({ min: 0, max: 100 }).map((percent) => percent / 100),
  limitSeconds: fc.option(fc.integer({ min: 1, max: 1e6 }).map((ms) => ms / 1000)),
  stream: fc.option(
    fc.record({
      everySeconds: fc.integer({ min: 1, max: 1e4 }).map((ms) => ms / 1000),
      forSeconds: fc.integer({ min: 1, max: 1e5 }),
    }),
  ),
});

describe('a line of a phase', () => {
  it('is read as it is written', () => {
    expect(parsePhase('Level: 4 s processor, 1.8 GB in 64 KiB x8, 900 files, overlap 40%, within 20 s')).toEqual({
      name: 'Level',
      processorSeconds: 4,
      bytes: 1.8e9,
      requestBytes: 65_536,
      parallel: 8,
      operations: 900,
      overlapShare: 0.4,
      limitSeconds: 20,
      stream: null,
    });
    expect(parsePhase('Streaming: 24 MB x2, every 500 ms for 10 min, within 400 ms')).toMatchObject({
      requestBytes: 1_048_576,
      parallel: 2,
      limitSeconds: 0.4,
      stream: { everySeconds: 0.5, forSeconds: 600 },
    });
  });

  it('is read as people say it', () => {
    const of = (line: string) => parsePhase(line);
    const always = of('World: 80 MB/s all the time');
    for (const said of ['80 MB/sec all the time', '80 MB per second continuously', '640 Mb/s constantly'])
      expect(of(`World: ${said}`), said).toEqual(always);
    expect(of('World: 80 MBps all the time for 20 min').stream).toEqual({ everySeconds: 0.5, forSeconds: 1200 });
    expect(of('Level: 4 s CPU, 1.8 GB, 1 file, at most 20 s')).toEqual(
      of('Level: 4 s processor, 1.8 GB, 1 files, within 20 s'),
    );
    expect(of('Level: 4 s of processor time, 1.8 GB, 1,200 Files').operations).toBe(1200);
  });

  it.each([
    ['Level: 12 GB in 128k QD4, 3 s CPU, within 8 s', 'Level: 3 s processor, 12 GB in 128 KiB x4, within 8 s'],
    ['Level: 12 GB, 64 KiB reads, queue depth 8, under 10 seconds', 'Level: 12 GB in 64 KiB x8, within 10 s'],
    ['Level load 12 GB within 10 s', 'Level load: 12 GB in 1 MiB, within 10 s'],
    ['Textures: 4,200 files of 350 kB, 16 threads', 'Textures: 1.47 GB in 350 kB x16, 4200 files'],
    [
      'Shaders: 30k small files, 1.2 GB in all, 6 s of processor',
      'Shaders: 6 s processor, 1.2 GB in 1 MiB, 30000 files',
    ],
    ['Boot: 2 GB random 4K QD32, <5 s', 'Boot: 2 GB in 4 KiB x32, within 5 s'],
    ['Boot: 2 GB at most 5 s', 'Boot: 2 GB in 1 MiB, within 5 s'],
  ])('%s', (said, line) => {
    expect(phaseLine(parsePhase(said))).toBe(line);
    expect(parsePhase(line)).toEqual(parsePhase(said));
  });

  it.each([
    ['Level: 12 GB in 1 KiB reads', /between 4 KiB and 16 MiB/],
    ['Level: 12 GB, QD65', /at most 64 requests/],
    // How it lies is not what its ladder measured.
    ['Level: 12 GB sequential 1 MiB', /“12 GB sequential 1 MiB” is not an amount/],
  ])('%s is refused', (line, fault) => expect(() => parsePhase(line)).toThrow(fault));

  it('gives the same phase again, whatever it holds', () => {
    fc.assert(
      fc.property(anyPhase, (phase) => {
        expect(parsePhase(phaseLine(phase))).toEqual(phase);
      }),
    );
  });

  it.each([
    ['4 s processor', /begins with a name and a colon/],
    ['Level: ', /does nothing/],
    ['Level: 4 parsecs processor', /not a time span/],
    ['Level: -4 GB', /bytes/],
    ['Level: 1 GB in 1 KiB', /between 4 KiB and 16 MiB/],
    ['Level: 1 GB in 64 MiB', /between 4 KiB and 16 MiB/],
    ['Level: 1 GB x65', /at most 64/],
    ['Level: 1 Gb', /bytes or bits|bits/],
    ['Level: 1 GB, overlap 140%', /at most 100%/],
    ['Level: 1 GB, within 0 s', /more than nothing/],
    ['Level: 3 s processor, every 1 s for 10 s', /bytes of each chunk/],
  ])('says what is wrong with “%s”', (line, sentence) => {
    const { errors, item } = loadForm.read({ ...loadForm.start, phases: line }, 'one', null);
    if (item === null) expect(errors['phases']).toMatch(sentence);
    else expect(line).toBe('Level: 1 Gb');
  });
});

describe('the form of a load', () => {
  it('gives every template again', () => {
    for (const { label, phases, installBytes } of LOAD_TEMPLATES) {
      const item = { kind: 'load' as const, id: 'one', name: label, phases: [...phases], installBytes, observed: [] };
      expect(loadForm.read(loadForm.texts(item), 'one', null).item).toEqual(item);
    }
  });

  it('asks for the rate at which the bytes come within what the processor leaves', () => {
    const rate = (line: string) =>
      demandsOf(loadForm.read({ ...loadForm.start, phases: line }, 'one', null).item!)[0]!.bytesPerSecond;
    expect(rate('Level: 5 s processor, 3 GB, within 20 s')).toBeCloseTo(200e6, 0);
    // Half of the computing goes on beside the reading.
    expect(rate('Level: 5 s processor, 3.5 GB, overlap 50%, within 20 s')).toBeCloseTo(200e6, 0);
    expect(rate('Streaming: 20 MB, every 500 ms for 1 min')).toBeCloseTo(40e6, 0);
    expect(rate('Streaming: 20 MB, every 500 ms for 1 min, within 250 ms')).toBeCloseTo(80e6, 0);
  });
});
