import { useMemo, useState } from 'react';
import { loadForm } from '#core/3-jobs/demand/loads/load-form.ts';
import { phaseBytes, type LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { phaseLine } from '#core/3-jobs/demand/loads/phase-line.ts';
import { LOAD_TEMPLATES, type LoadTemplate } from '#core/3-jobs/demand/loads/templates.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { phasesOfRecording, type Recording } from '#core/3-jobs/recording/recording.ts';
import { bytesText, formatDuration } from '#core/1-ground/units/format.ts';
import { bytesTyped } from '#core/1-ground/units/typable.ts';
import { newItemId } from '../../../state/workload-edits.ts';
import { FieldsSheet } from './FieldsSheet.tsx';
import type { ItemSheetProps } from './item-view.ts';
import { RecorderField } from './RecorderField.tsx';
import { Suggestions } from './Suggestions.tsx';

/** A load: from a template, from a recorded program, or phase by phase. */
export default function LoadSheet({ item, onClose, onSave }: ItemSheetProps<LoadItem>) {
  const [id] = useState(() => item?.id ?? newItemId());
  const [texts, setTexts] = useState<FieldTexts>(() => (item ? loadForm.texts(item) : loadForm.start));
  const { item: read, errors } = useMemo(() => loadForm.read(texts, id, null), [texts, id]);
  const change = (part: FieldTexts) => setTexts((old) => ({ ...old, ...part }));
  const takeRecording = ({ name, rows }: Pick<Recording, 'name' | 'rows'>, fromDevice: boolean) =>
    change({ phases: phasesOfRecording(rows, fromDevice).map(phaseLine).join('\n'), name: texts['name'] || name });
  return (
    <FieldsSheet
      title={item ? 'Edit load' : 'Add load'}
      isNew={item === null}
      fields={loadForm.fields}
      texts={texts}
      errors={errors}
      onTexts={change}
      comesTo={read && comesTo(read)}
      onSave={() => read && onSave(read)}
      onClose={onClose}
    >
      <Suggestions
        lead="Start from made-up figures of:"
        options={LOAD_TEMPLATES}
        nameOf={({ label }) => label}
        onPick={(template) => change(templateTexts(template))}
      />
      <RecorderField becomes="its phases" use="Make it the phases below" onRecording={takeRecording} />
    </FieldsSheet>
  );
}

const templateTexts = ({ phases, installBytes, label }: LoadTemplate): FieldTexts => ({
  phases: phases.map(phaseLine).join('\n'),
  install: installBytes === null ? '' : bytesTyped(installBytes),
  name: label,
});

function comesTo({ phases }: LoadItem): string {
  const bytes = phases.reduce((sum, phase) => sum + phaseBytes(phase), 0);
  const processor = phases.reduce((sum, { stream, processorSeconds }) => sum + (stream ? 0 : processorSeconds), 0);
  const written = phases.reduce((sum, phase) => sum + (phase.writtenBytes ?? 0), 0);
  const moved = [
    ...(bytes > 0 || written === 0 ? [`${bytesText(bytes)} read`] : []),
    ...(written > 0 ? [`${bytesText(written)} written`] : []),
  ];
  return `${moved.join(', ')}, ${formatDuration(processor)} computing`;
}
