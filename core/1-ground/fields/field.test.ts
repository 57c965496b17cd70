import { expect, it } from 'vitest';
import { withoutName } from '#core/1-ground/fields/field.ts';

it.each([
  ['share: type a share above 0 and up to 95%.', 'Type a share above 0 and up to 95%.'],
  ['at-most: must be an amount.', 'It must be an amount.'],
  ['“many” is not a whole number.', '“many” is not a whole number.'],
  ['Needs a name.', 'Needs a name.'],
])('%s is told at its field without the name that it has on the command line', (fault, told) => {
  expect(withoutName(fault)).toBe(told);
});
