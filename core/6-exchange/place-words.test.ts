import { describe, expect, it } from 'vitest';
import type { Field } from '#core/1-ground/fields/field.ts';
import { SCREEN_WORDS, placeWords } from '#core/1-ground/schema/place-words.ts';
import { DRIVE_FIELDS } from '#core/2-trade/drives/drive-details.ts';
import { FOOTAGE_FIELDS } from '#core/3-jobs/demand/footage/footage-form.ts';
import { ITEM_KINDS } from '#core/3-jobs/demand/items.ts';
import { parseWorkload } from '#core/3-jobs/demand/workload.ts';
import { RECIPE_KINDS } from '#core/3-jobs/recipes/registry.ts';
import { SIZING_FIELDS } from '#core/5-answers/sizing/sizing-fields.ts';

describe('places in documents', () => {
  it('are called as the forms call them', () => {
    const fields: Field[] = [...DRIVE_FIELDS, ...SIZING_FIELDS, ...FOOTAGE_FIELDS];
    fields.push(
      ...ITEM_KINDS.flatMap(({ form }) => form?.fields ?? []),
      ...RECIPE_KINDS.flatMap((kind) => kind.fields),
    );
    const labels = new Set(fields.map(({ label }) => label.toLowerCase().split(',')[0]));
    expect(Object.values(SCREEN_WORDS).filter((words) => !labels.has(words))).toEqual([]);
  });

  it.each([
    ['items[0].phases[1].bytes', 'item 1, phase 2: bytes'],
    ['plan.policy.headroomShare', 'headroom'],
    ['items[2].frames.headerBytes', 'item 3: beside the channels'],
    ['plan.materials[0].copies', 'material 1: copies'],
    ['runs[0].traces[0].curves[0].seconds[1]', 'run 1, trace 1, curve 1, second 2'],
    ['name', 'name'],
  ])('%s is %s', (path, words) => {
    expect(placeWords(path)).toBe(words);
  });

  it('are told in words where a document is at fault, and by their path to programs', () => {
    const phase = { name: 'Level', bytes: -1 };
    const item = { kind: 'load', id: 'l', name: 'Load', installBytes: 0, phases: [phase], observed: [] };
    const workload = { tavrox: 'workload/1', id: 'w', name: 'W', note: '', example: false, items: [item] };
    const fault = (() => {
      try {
        return parseWorkload(workload);
      } catch (error) {
        return error as { detail: string; where: string };
      }
    })();
    expect(fault).toMatchObject({ where: expect.stringContaining('phases[0]') as string });
    expect((fault as { detail: string }).detail).not.toMatch(/\[|[a-z][A-Z]/);
    expect((fault as { detail: string }).detail).toMatch(/item 1, phase 1/);
  });
});
