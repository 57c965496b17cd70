import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shortPassesOptionsSchema } from '#core/run/short-passes-options.ts';
import { draftOf, readDraft, type Draft } from './options-draft.ts';

const defaults = shortPassesOptionsSchema.getDefault();
const draft = (change: Partial<Draft> = {}): Draft => ({ ...draftOf(defaults), ...change });

describe('the form of short passes', () => {
  it('shows the options that it was given, and reads them back', () => {
    const options = fc.record({
      passes: fc.option(fc.integer({ min: 1, max: 10_000 })),
      seconds: fc.constantFrom(0.5, 2, 30),
      sizeBytes: fc.option(fc.integer({ min: 1, max: 999 }).map((gigabytes) => gigabytes * 1e9)),
      blockBytes: fc.integer({ min: 12, max: 24 }).map((power) => 2 ** power),
      depth: fc.integer({ min: 1, max: 32 }),
    });
    fc.assert(
      fc.property(options, (given) => {
        const { options: read, errors } = readDraft(draftOf(given));
        expect(errors).toEqual({});
        // Seconds of a pass do not matter when its size is given.
        expect(read).toEqual(given.sizeBytes === null ? given : { ...given, seconds: defaults.seconds });
      }),
    );
  });

  it.each<[Partial<Draft>, keyof Draft, RegExp]>([
    [{ passes: '0' }, 'passes', /not a whole number of at least 1/],
    [{ passes: '2.5' }, 'passes', /not a whole number/],
    [{ passes: '99999' }, 'passes', /1 to 10,000/],
    [{ seconds: 'a while' }, 'seconds', /not a time span/],
    [{ seconds: '0.01' }, 'seconds', /0\.2 to 600/],
    [{ sizeBy: 'amount', size: '' }, 'size', /not an amount/],
    [{ sizeBy: 'amount', size: '10 gb' }, 'size', /bytes or bits/],
    [{ sizeBy: 'amount', size: '0' }, 'size', /more than 0/],
    [{ block: '3 MiB' }, 'block', /power of two/],
    [{ block: '1 kB' }, 'block', /at least 4 KiB/],
    [{ depth: '64' }, 'depth', /1 to 32/],
  ])('says of %j what is wrong, at %s', (change, field, message) => {
    const { options, errors } = readDraft(draft(change));
    expect(options).toBeUndefined();
    expect(errors[field]).toMatch(message);
    expect(Object.keys(errors)).toEqual([field]);
  });

  it('shows all faults at once', () => {
    const { errors } = readDraft(draft({ passes: 'many', block: '5 MiB', depth: '0' }));
    expect(Object.keys(errors).sort()).toEqual(['block', 'depth', 'passes']);
  });

  it('asks for no number of passes that go on until stopped', () => {
    expect(readDraft(draft({ repeat: 'until-stopped', passes: 'whatever' })).options).toMatchObject({ passes: null });
  });
});
