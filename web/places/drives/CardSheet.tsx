import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { DRIVE_FIELDS, driveTexts, readDrive } from '#core/2-trade/drives/drive-details.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { api } from '../../api/client.ts';
import { KeptFieldsSheet } from '../../kit/KeptFieldsSheet.tsx';
import { refresh } from '../../state/library.ts';

const read = (texts: FieldTexts) => {
  const { card, errors } = readDrive(texts);
  return { kept: card, errors };
};

/** What a person knows of a drive beside what was measured. */
export default function CardSheet({ card, onClose }: { card: DriveCard; onClose: () => void }) {
  return (
    <KeptFieldsSheet
      title="Edit card"
      fields={DRIVE_FIELDS}
      start={() => driveTexts(card.label, card.details)}
      read={read}
      onKeep={async (kept) => {
        await api.changeDrive(card.id, kept);
        await refresh('drives', 'runs');
      }}
      onClose={onClose}
    />
  );
}
