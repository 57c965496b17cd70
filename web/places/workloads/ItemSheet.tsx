import { useMemo, useState } from 'react';
import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import {
  FOOTAGE_FIELDS,
  FROM_MATERIAL,
  NEW_FOOTAGE,
  fieldsOfForm,
  footageTexts,
  readFootage,
  type FootageTexts,
} from '#core/3-jobs/demand/footage/footage-form.ts';
import { ESSENCE_FORMS, type Essence } from '#core/3-jobs/demand/essences/registry.ts';
import type { Field, FieldTexts } from '#core/1-ground/fields/field.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { figureText, formatBitRate, formatBytes, rateText } from '#core/1-ground/units/format.ts';
import { FieldLines } from '../../kit/field-lines.tsx';
import { ChoiceLine } from '../../kit/form.tsx';
import { newItemId } from '../../state/workload-edits.ts';
import { typedRate } from '#core/3-jobs/demand/essences/own.ts';
import { readFormatText } from '#core/2-trade/media/format-text.ts';
import { FormatField } from './FormatField.tsx';
import { FieldsSheet } from './items/FieldsSheet.tsx';
import type { ItemSheetProps } from './items/item-view.ts';
import { MaterialField } from './MaterialField.tsx';

const GIVEN_BY: readonly { id: string; label: string; help: string }[] = [
  ...ESSENCE_FORMS.map(({ kind, form }) => ({ id: kind, label: form.label, help: form.help })),
  { id: FROM_MATERIAL, label: 'From a file', help: 'A clip, a sequence, a timeline or a curve of your own.' },
];

/** Formats are looked up while they are typed. */
const SPECIAL = { format: FormatField };

/** An item of footage: what, how many, for how long; what it comes to is said while it is typed. */
export default function ItemSheet({ item, onClose, onSave }: ItemSheetProps<FootageItem>) {
  const [id] = useState(() => item?.id ?? newItemId());
  const [typed, setTyped] = useState<FootageTexts>(() => (item ? footageTexts(item) : NEW_FOOTAGE));
  const [material, setMaterial] = useState<Essence | null>(() =>
    item && typed.form === FROM_MATERIAL ? item.essence : null,
  );
  const { item: read, errors } = useMemo(() => readFootage(typed, id, material), [typed, id, material]);
  const onTexts = (part: FieldTexts) => {
    // “×3” in the line of the format is the number in the field, too.
    const line = part['format'];
    const streams = line === undefined ? null : (typedRate(line)?.streams ?? readFormatText(line).streams);
    const more: FieldTexts = streams === null ? {} : { streams: String(streams) };
    setTyped((old) => ({ ...old, texts: { ...old.texts, ...part, ...more } }));
  };
  const { action, form, texts } = typed;

  // A timeline or a curve is as long as it is; one take has no gap.
  const isIdle = ({ option }: Field) =>
    (option === 'takeLength' && form === FROM_MATERIAL && material?.kind === 'curve') ||
    (option === 'gap' && texts['takes']?.trim() === '1');

  return (
    <FieldsSheet
      title={item ? 'Edit footage' : 'Add footage'}
      isNew={item === null}
      fields={FOOTAGE_FIELDS.filter((field) => !isIdle(field))}
      texts={texts}
      errors={errors}
      onTexts={onTexts}
      comesTo={read && comesTo(read)}
      onSave={() => read && onSave(read)}
      onClose={onClose}
    >
      <ChoiceLine
        label="What happens"
        help={action === 'record' ? 'It is written to the drive.' : 'It is read from the drive.'}
        value={action}
        options={[
          ['record', 'Record'],
          ['play', 'Play'],
        ]}
        onChange={(next) => setTyped({ ...typed, action: next as FootageItem['action'] })}
      />
      <ChoiceLine
        label="Given by"
        help={GIVEN_BY.find((one) => one.id === form)!.help}
        value={form}
        options={GIVEN_BY.map((one) => [one.id, one.label] as const)}
        onChange={(next) => setTyped({ ...typed, form: next })}
      />
      <FieldLines
        fields={fieldsOfForm(form)}
        texts={texts}
        errors={errors}
        onTexts={onTexts}
        special={SPECIAL}
        isHeaded={false}
      />
      {form === FROM_MATERIAL && <MaterialField essence={material} onEssence={setMaterial} />}
    </FieldsSheet>
  );
}

function comesTo(item: FootageItem): string {
  const { bytesPerSecond } = demandOf(item);
  return `${rateText(bytesPerSecond)}, ${figureText(formatBitRate(bytesPerSecond))}, ${figureText(formatBytes(bytesPerSecond * 3600))} an hour`;
}
