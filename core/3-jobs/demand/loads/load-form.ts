import type { ItemForm } from '#core/3-jobs/demand/item-kind.ts';
import { loadItemSchema, type LoadItem, type Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { phaseLine, PHASES } from '#core/3-jobs/demand/loads/phase-line.ts';
import { LOAD_TEMPLATES } from '#core/3-jobs/demand/loads/templates.ts';
import type { Observation } from '#core/3-jobs/demand/observed/observation.ts';
import { schemaFault } from '#core/1-ground/schema/fault-words.ts';
import type { Field } from '#core/1-ground/fields/field.ts';
import { fieldTexts, readFields } from '#core/1-ground/fields/read-fields.ts';
import { BYTES, TEXT } from '#core/1-ground/fields/kinds.ts';
import { OBSERVATIONS } from '#core/3-jobs/demand/observed/observation.ts';

const GROUP = 'What it does';

const FIELDS: readonly Field[] = [
  {
    option: 'phases',
    group: GROUP,
    label: 'Phases, one a line',
    help: 'Name: 4 s processor, 1.8 GB in 64 KiB x8, 900 files, overlap 40%, within 20 s. For what streams in while it is used, the bytes are of a chunk: every 500 ms for 10 min.',
    flag: 'phases',
    kind: PHASES,
  },
  {
    option: 'install',
    group: GROUP,
    label: 'On the drive',
    help: 'What it takes there, for telling what a library comes to. Empty when it does not matter.',
    flag: 'install',
    kind: BYTES,
    empty: 'not given',
  },
  {
    option: 'observed',
    group: 'Times you have seen',
    label: 'One drive a line',
    help: 'Name, its rate, then the times of the whole load: Anchor 16T, 190 MB/s: 41 s, 40 s. End with “warm” for later passes.',
    flag: 'observed',
    kind: OBSERVATIONS,
    empty: 'none',
  },
  {
    option: 'name',
    group: 'Times you have seen',
    label: 'Name',
    help: 'Of the load.',
    flag: 'name',
    kind: TEXT,
    empty: 'Load',
  },
];

interface Values {
  phases: Phase[];
  install: number | null;
  observed: Observation[] | null;
  name: string | null;
}

export const loadForm: ItemForm<LoadItem> = {
  fields: FIELDS,
  start: {
    phases: LOAD_TEMPLATES[0]!.phases.map(phaseLine).join('\n'),
    install: '',
    observed: '',
    name: '',
  },
  texts: ({ phases, installBytes, observed, name }) =>
    fieldTexts(FIELDS, { phases, install: installBytes, observed, name }),
  read(texts, id) {
    const { values, errors } = readFields(FIELDS, texts);
    if (Object.keys(errors).length > 0) return { item: null, errors };
    const { phases, install, observed, name } = values as unknown as Values;
    if (phases.length === 0) return { item: null, errors: { phases: 'phases: type at least one.' } };
    const item: LoadItem = {
      kind: 'load',
      id,
      name: name ?? 'Load',
      phases,
      installBytes: install,
      observed: observed ?? [],
    };
    try {
      loadItemSchema.validateSync(item, { strict: true });
    } catch (error) {
      const { part, sentence } = schemaFault(error);
      return { item: null, errors: { [FIELD_OF_PART[part] ?? 'name']: sentence } };
    }
    return { item, errors: {} };
  },
};

const FIELD_OF_PART: Record<string, string> = { phases: 'phases', observed: 'observed', installBytes: 'install' };
