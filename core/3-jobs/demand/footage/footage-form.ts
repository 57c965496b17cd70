import { typedRate } from '#core/3-jobs/demand/essences/own.ts';
import { schemaFault } from '#core/1-ground/schema/fault-words.ts';
import { ESSENCE_FORMS, essenceKindOf, type Essence } from '#core/3-jobs/demand/essences/registry.ts';
import { footageItemSchema, type FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import type { Field, FieldErrors, FieldKind, FieldTexts } from '#core/1-ground/fields/field.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import type { Buffer } from '#core/1-ground/units/quantity.ts';
import { BUFFER, COUNT, SECONDS, SOME_SECONDS, SWITCH, TEXT, choiceOf } from '#core/1-ground/fields/kinds.ts';

/** Given by what was read from real material, and not by fields. */
export const FROM_MATERIAL = 'material';

/** An item of footage as typed: what it is given by, and the texts of all fields, those of other forms included. */
export interface FootageTexts {
  action: FootageItem['action'];
  /** Kind of the essence whose form is filled in, or {@link FROM_MATERIAL}. */
  form: string;
  texts: FieldTexts;
}

const group = 'How many and how long';

/** A take is minutes to one and seconds to another: a bare number is asked about. */
const TAKE_LENGTH: FieldKind = {
  ...SOME_SECONDS,
  read(text, where) {
    if (!/^\d*[1-9]\d*$/.test(text)) return SOME_SECONDS.read(text, where);
    throw badInput(where, `${where}: “${text}” can mean ${text} min or ${text} s. Type the one you mean.`);
  },
};

/** What every item of footage is asked for beside its essence. */
export const FOOTAGE_FIELDS: readonly Field[] = [
  {
    option: 'streams',
    group,
    label: 'Streams',
    help: 'As many as run at the same time.',
    flag: 'streams',
    kind: COUNT,
  },
  {
    option: 'takes',
    group,
    label: 'Takes',
    help: 'Recorded or played one after the other.',
    flag: 'takes',
    kind: COUNT,
  },
  {
    option: 'takeLength',
    group,
    label: 'Length of a take',
    help: 'Such as 40 min.',
    flag: 'length',
    kind: TAKE_LENGTH,
  },
  {
    option: 'gap',
    group,
    label: 'Gap between takes',
    help: 'In which the drive can rest. Empty for none.',
    flag: 'gap',
    kind: SECONDS,
    empty: 'none',
  },
  {
    option: 'between',
    group,
    label: 'After each take the material',
    help: 'What stays adds up from take to take; what is taken off makes room again.',
    flag: 'between',
    kind: choiceOf([
      ['stay', 'stays on the drive'],
      ['take-off', 'is taken off'],
    ]),
  },
  {
    option: 'takeOff',
    group,
    label: 'Taking off one take takes',
    help: 'Until it is off, it counts as still there. Empty: it is off before the next take begins.',
    flag: 'take-off',
    kind: SOME_SECONDS,
    empty: 'off before the next take',
  },
  {
    option: 'buffer',
    group,
    label: 'Buffer of the program',
    help: 'In seconds of the footage, such as 1 s, or in bytes, such as 512 MB. It stays in what you give.',
    flag: 'buffer',
    kind: BUFFER,
  },
  {
    option: 'together',
    group,
    label: 'At the same time as others',
    help: 'Items that say yes are added up and judged as one, beside each alone.',
    flag: 'together',
    kind: SWITCH,
  },
  {
    option: 'name',
    group,
    label: 'Name',
    help: 'Left empty, it is called after its format.',
    flag: 'name',
    kind: TEXT,
    empty: 'after its format',
  },
];

export const NEW_FOOTAGE: FootageTexts = {
  action: 'record',
  form: ESSENCE_FORMS[0]!.kind,
  texts: {
    ...ESSENCE_FORMS.reduce<FieldTexts>((all, { form }) => ({ ...all, ...form.start }), {}),
    streams: '1',
    takes: '1',
    takeLength: '40 min',
    gap: '20 min',
    between: 'stay',
    takeOff: '',
    buffer: '1 s',
    together: 'no',
    name: '',
  },
};

/** Fields of a form; none for what was read from material. */
export function fieldsOfForm(form: string): readonly Field[] {
  return ESSENCE_FORMS.find((one) => one.kind === form)?.form.fields ?? [];
}

/** An item as it is typed again. */
export function footageTexts(item: FootageItem): FootageTexts {
  const { essence, takes, buffer, together = false } = item;
  const { kind, form } = essenceKindOf(essence);
  const common = {
    streams: item.streams,
    takes: takes.count,
    takeLength: takes.seconds,
    gap: takes.gapSeconds,
    between: takes.between ?? 'stay',
    takeOff: takes.takeOffSeconds ?? null,
    buffer,
    together,
    name: item.name,
  };
  return {
    action: item.action,
    form: form ? kind : FROM_MATERIAL,
    texts: {
      ...NEW_FOOTAGE.texts,
      ...(form ? fieldTexts(form.fields, form.values(essence)) : {}),
      ...fieldTexts(FOOTAGE_FIELDS, common),
    },
  };
}

export interface ReadFootage {
  /** Null while anything is at fault. */
  item: FootageItem | null;
  errors: FieldErrors;
}

interface CommonValues {
  streams: number;
  takes: number;
  takeLength: number;
  gap: number | null;
  between: FootageItem['takes']['between'];
  takeOff: number | null;
  buffer: Buffer;
  together: boolean;
  name: string | null;
}

/**
 * The item that texts describe; all faults at once.
 * @param material what was read from real material, for what is given by that
 */
export function readFootage(
  { action, form, texts }: FootageTexts,
  id: string,
  material: Essence | null = null,
): ReadFootage {
  // Where a format is asked for, a rate alone says as much: “3 × 180 MB/s”.
  const rate = form === 'picture' ? typedRate(texts['format'] ?? '') : null;
  const own = rate ? { values: {}, errors: {} } : readFields(fieldsOfForm(form), texts);
  const common = readFields(FOOTAGE_FIELDS, texts);
  const errors = { ...own.errors, ...common.errors };
  if (form === FROM_MATERIAL && !material) {
    errors[FROM_MATERIAL] = 'material: nothing has been read from a file yet. Drop one above.';
  }
  if (Object.keys(errors).length > 0) return { item: null, errors };
  const given = rate ?? ESSENCE_FORMS.find((one) => one.kind === form)?.form.essence(own.values);
  const { essence, streams: typedStreams = null } = given ?? { essence: material! };
  const { streams, takes, takeLength, gap, between, takeOff, buffer, together, name } =
    common.values as unknown as CommonValues;
  const item: FootageItem = {
    kind: 'footage',
    id,
    name: name ?? essenceKindOf(essence).name(essence).slice(0, 120),
    action,
    essence,
    // “×3” in the line of the format says it too; the field that was changed from one counts.
    streams: typedStreams !== null && streams === 1 ? typedStreams : streams,
    takes: {
      count: takes,
      seconds: takeLength,
      gapSeconds: gap ?? 0,
      between,
      takeOffSeconds: between === 'take-off' ? takeOff : null,
    },
    buffer,
    ...(together ? { together: true } : {}),
  };
  try {
    footageItemSchema.validateSync(item, { strict: true });
  } catch (error) {
    return { item: null, errors: { name: schemaFault(error).sentence } };
  }
  return { item, errors };
}
