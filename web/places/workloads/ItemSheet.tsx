import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { demandOf } from '#core/demand/footage-demand.ts';
import { NEW_ITEM_TEXTS, itemTexts, readItem, type ItemKind, type ItemTexts } from '#core/demand/item-texts.ts';
import type { Essence, FootageItem } from '#core/demand/workload.ts';
import { figureText, formatBitRate, formatBytes, rateText } from '#core/units/format.ts';
import { ChoiceLine, QuantityLine, TextLine } from '../../kit/form.tsx';
import { SideSheet } from '../../kit/SideSheet.tsx';
import { Heading } from '../../kit/words.tsx';
import { newItemId } from '../../state/workload-edits.ts';
import { ink } from '../../theme/tokens.ts';
import { FormatField } from './FormatField.tsx';
import { MaterialField } from './MaterialField.tsx';

interface ItemSheetProps {
  /** Null for a new one. */
  item: FootageItem | null;
  onClose: () => void;
  onSave: (item: FootageItem) => void;
}

const KINDS: readonly (readonly [ItemKind, string])[] = [
  ['picture', 'A format'],
  ['sound', 'Sound'],
  ['own', 'By its rate'],
  ['material', 'From a file'],
];

const materialOf = (item: FootageItem | null): Essence | null =>
  item && (item.essence.kind === 'measured' || item.essence.kind === 'curve') ? item.essence : null;

/** An item of footage: what, how many, for how long; what it comes to is said while it is typed. */
export default function ItemSheet({ item, onClose, onSave }: ItemSheetProps) {
  const [id] = useState(() => item?.id ?? newItemId());
  const [texts, setTexts] = useState<ItemTexts>(() => (item ? itemTexts(item) : NEW_ITEM_TEXTS));
  const [material, setMaterial] = useState<Essence | null>(() => materialOf(item));
  const { item: read, errors } = useMemo(() => readItem(texts, id, material), [texts, id, material]);
  const change = (part: Partial<ItemTexts>) => setTexts((old) => ({ ...old, ...part }));
  const line = (field: keyof ItemTexts, label: string, help: string, placeholder?: string) => (
    <TextLine
      label={label}
      help={help}
      value={texts[field]}
      error={errors[field]}
      placeholder={placeholder}
      onChange={(value) => change({ [field]: value })}
    />
  );

  // A timeline or a curve is as long as it is.
  const followsCurve = texts.kind === 'material' && material?.kind === 'curve';

  return (
    <SideSheet
      title={item ? 'Edit footage' : 'Add footage'}
      onClose={onClose}
      actions={
        <>
          <Button variant="contained" disabled={read === null} onClick={() => read && onSave(read)}>
            {item ? 'Keep' : 'Add'}
          </Button>
          <Typography variant="body2" data-comes-to="" sx={{ color: ink('second') }}>
            {read ? comesTo(read) : 'Something above cannot be used yet.'}
          </Typography>
        </>
      }
    >
      <ChoiceLine
        label="What happens"
        help={texts.action === 'record' ? 'It is written to the drive.' : 'It is read from the drive.'}
        value={texts.action}
        options={[
          ['record', 'Record'],
          ['play', 'Play'],
        ]}
        onChange={(action) => change({ action: action as FootageItem['action'] })}
      />
      <ChoiceLine
        label="Given by"
        help={KIND_HELP[texts.kind]}
        value={texts.kind}
        options={KINDS}
        onChange={(kind) => change({ kind: kind as ItemKind })}
      />
      {texts.kind === 'picture' && (
        <>
          <FormatField value={texts.format} error={errors.format} onChange={(format) => change({ format })} />
          {line('soundTracks', 'Sound in each stream', 'Tracks of 48 kHz and 24 bit; empty for none.', 'none')}
        </>
      )}
      {texts.kind === 'sound' && (
        <>
          {line('tracks', 'Tracks', 'All of them together.')}
          {line('kilohertz', 'Samples, kHz', '48 or 96, as recorded.')}
          {line('bits', 'Bits of a sample', '16, 24 or 32.')}
        </>
      )}
      {texts.kind === 'own' && (
        <>
          {line('label', 'Name of the format', 'As it will be called in sentences.')}
          <QuantityLine
            what="rate"
            label="Rate of one stream"
            help="Such as 62 MB/s or 500 Mb/s."
            value={texts.rate}
            error={errors.rate}
            onChange={(rate) => change({ rate })}
          />
          {line('frameRate', 'Frames per second', 'Empty where there are none to drop.', 'none')}
          {line('peak', 'Peak', 'Worst second ÷ average, such as 1.5.', 'as the average')}
        </>
      )}
      {texts.kind === 'material' && <MaterialField essence={material} onEssence={setMaterial} />}
      <Heading>How many and how long</Heading>
      {line('streams', 'Streams', 'As many as run at the same time.')}
      {line('takes', 'Takes', 'Recorded or played one after the other.')}
      {!followsCurve && line('takeLength', 'Length of a take', 'Such as 40 min.')}
      {texts.takes.trim() !== '1' &&
        line('gap', 'Gap between takes', 'In which the drive can rest. Empty for none.', 'none')}
      <QuantityLine
        what="size"
        label="Buffer of the program"
        help="In seconds of the footage, such as 1 s, or in bytes, such as 512 MB. It stays in what you give."
        value={texts.buffer}
        error={errors.buffer}
        onChange={(buffer) => change({ buffer })}
      />
      <ChoiceLine
        label="At the same time as others"
        help="Items that say yes are added up and judged as one, beside each alone."
        value={texts.together}
        options={[
          ['no', 'No'],
          ['yes', 'Yes'],
        ]}
        onChange={(together) => change({ together: together as ItemTexts['together'] })}
      />
      {line('name', 'Name', 'Left empty, it is called after its format.', 'after its format')}
    </SideSheet>
  );
}

const KIND_HELP: Record<ItemKind, string> = {
  picture: 'Raster, layout or codec, and frame rate.',
  sound: 'Tracks without a picture.',
  own: 'For what the library does not know.',
  material: 'A clip, a sequence, a timeline or a curve of your own.',
};

function comesTo(item: FootageItem): string {
  const { bytesPerSecond } = demandOf(item);
  return `${rateText(bytesPerSecond)}, ${figureText(formatBitRate(bytesPerSecond))}, ${figureText(formatBytes(bytesPerSecond * 3600))} an hour`;
}
