import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { sideOf } from '#core/5-answers/compare/compare-drives.ts';
import { changeOverTime, type ChangeOverTime } from '#core/5-answers/compare/over-time.ts';
import { bindingHop } from '#core/2-trade/links/connection.ts';
import { boxMark, LOST_WITH_MACHINE, mediumText } from '#core/2-trade/drives/medium.ts';
import { promiseLimits } from '#core/2-trade/drives/promise-limits.ts';
import type { DriveCard } from '#core/6-exchange/api/wire.ts';
import { DIRECTIONS } from '#core/1-ground/curves/direction.ts';
import { missingParts } from '#core/4-runs/supply/profile.ts';
import { bytesText, formatNumber, formatShare, rateText } from '#core/1-ground/units/format.ts';
import { PutIntoReport } from '../../frame/PutIntoReport.tsx';
import { ChoiceItem, ChoiceList, ChoiceText } from '../../kit/choices.tsx';
import { Doubts, Fact, Heading } from '../../kit/words.tsx';
import { api } from '../../api/client.ts';
import { refresh, tellFailure, useLibrary } from '../../state/library.ts';
import { deleteKept } from '../../state/undo.ts';
import { DriveHealth } from './DriveHealth.tsx';
import type { DriveSupply } from '../../state/drive-supplies.ts';

const COLUMN_BUTTON = { ml: -0.75, fontSize: 13.5, minWidth: 0, px: 0.75 } as const;

interface DriveColumnProps {
  drive: DriveSupply;
  /** Drives beside each other, this one first. */
  comparedIds: readonly string[];
  onEdit: () => void;
  onAdd: () => void;
  onDrive: (driveId: string) => void;
}

/** The card of the chosen drive, what was measured beside what was promised, and all drives there are. */
export function DriveColumn({ drive, comparedIds, onEdit, onAdd, onDrive }: DriveColumnProps) {
  const { card, supply, profile } = drive;
  const { details } = card;
  const isTyped = card.identityKind === 'typed';
  const missing = supply ? missingParts(supply) : [];
  const changes = DIRECTIONS.flatMap((direction) => {
    const change = profile ? changeOverTime(profile.runs, direction) : null;
    return change ? [{ direction, change }] : [];
  });
  const hasPromise = details.ratedWriteBytesPerSecond !== null || details.ratedReadBytesPerSecond !== null;
  const hop = profile ? bindingHop(profile.connection) : null;
  const fastest = Math.max(
    0,
    ...DIRECTIONS.map((way) => (profile ? (sideOf(profile, way)?.openingBytesPerSecond ?? 0) : 0)),
  );
  return (
    <>
      <Typography variant="h2" sx={{ overflowWrap: 'anywhere' }}>
        {card.label}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {[kindText(card), bytesText(card.capacityBytes)].join(', ')}
      </Typography>
      <Button variant="text" onClick={onEdit} sx={COLUMN_BUTTON}>
        Edit card
      </Button>
      {isTyped && (
        <Button
          variant="text"
          onClick={() =>
            void deleteKept('drive', card.id, card.label, () => api.deleteDrive(card.id))
              .then(() => refresh('drives'))
              .catch(tellFailure)
          }
          sx={{ ...COLUMN_BUTTON, ml: 0 }}
        >
          Delete
        </Button>
      )}
      {isTyped && <JoinMeasured typed={card} onDrive={onDrive} />}
      <Heading>{supply?.isPromise ? 'From its box' : hasPromise ? 'Measured against its box' : 'Measured'}</Heading>
      {DIRECTIONS.map((direction) => (
        <Against key={direction} drive={drive} direction={direction} />
      ))}
      {supply?.isPromise &&
        promiseLimits(details).map((limit) => (
          <Typography key={limit} variant="caption" component="p" color="textSecondary">
            {limit}
          </Typography>
        ))}
      {changes.length > 0 && (
        <>
          <Heading>Is it getting slower?</Heading>
          {changes.map(({ direction, change }) => (
            <Fact key={direction} name={direction === 'write' ? 'writing' : 'reading'}>
              {changeText(change)}
            </Fact>
          ))}
        </>
      )}
      <Heading>Its card</Heading>
      <CardFacts drive={drive} />
      <DriveHealth card={card} />
      {hop && (
        <>
          <Heading>Its connection</Heading>
          {profile!.connection.hops.map(({ label, ceilingBytesPerSecond }) => (
            <Fact key={label} name={label}>
              {rateText(ceilingBytesPerSecond)}
              {label === hop.label && profile!.connection.hops.length > 1 ? ', binds' : ''}
              {fastest > 0 ? `, ${spareText(ceilingBytesPerSecond / fastest - 1)}` : ''}
            </Fact>
          ))}
        </>
      )}
      <Doubts title="Not known of this drive">{missing}</Doubts>
      {comparedIds.length > 1 && (
        <PutIntoReport
          subject={comparedIds.join(' ')}
          put={() => ({ kind: 'comparison', driveIds: [...comparedIds] })}
        />
      )}
      <Heading>Drives</Heading>
      <Button variant="text" onClick={onAdd} sx={COLUMN_BUTTON}>
        Add a drive
      </Button>
      <DriveList current={card.id} onDrive={onDrive} />
    </>
  );
}

/** A change of less is none. */
const LEAST_CHANGE = 0.05;

function changeText({ since, openingShare, floorShare }: ChangeOverTime): string {
  const day = new Date(since).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
  const word = (share: number, what: string) =>
    Math.abs(share) < LEAST_CHANGE
      ? null
      : `${what} ${formatShare(Math.abs(share))} ${share < 0 ? 'slower' : 'quicker'}`;
  const words = [word(openingShare, 'opens'), word(floorShare, 'floor')].filter((one) => one !== null);
  return `${words.length === 0 ? 'as it was' : words.join(', ')}, since ${day}`;
}

/** What a hop has beyond the fastest that the drive was seen at. */
/** What kind of drive it is, in the person’s own words where there are some; what is in memory is told in any case. */
const kindText = ({ details, medium }: Pick<DriveCard, 'details' | 'medium'>): string =>
  details.className === ''
    ? mediumText(medium)
    : medium === 'memory'
      ? `${details.className}, ${LOST_WITH_MACHINE}`
      : details.className;

const spareText = (share: number): string => (share < 0.05 ? 'nothing to spare' : `${formatShare(share)} to spare`);

function Against({ drive: { card, profile, supply }, direction }: { drive: DriveSupply; direction: 'write' | 'read' }) {
  const side = profile ? sideOf(profile, direction) : null;
  const rated = direction === 'write' ? card.details.ratedWriteBytesPerSecond : card.details.ratedReadBytesPerSecond;
  const name = direction === 'write' ? 'writing' : 'reading';
  if (side === null) return <Fact name={name}>{supply ? 'not measured' : 'reading its runs'}</Fact>;
  const opening = rateText(side.openingBytesPerSecond);
  const change = side.floorBytesPerSecond / side.openingBytesPerSecond;
  const floor =
    change < 0.95
      ? `, then ${rateText(side.floorBytesPerSecond)}`
      : change > 1.05
        ? `, rising to ${rateText(side.floorBytesPerSecond)}`
        : '';
  return (
    <Fact name={name}>
      {opening}
      {floor}
      {rated === null || supply?.isPromise
        ? ''
        : `: ${formatShare(side.floorBytesPerSecond / rated)} of ${rateText(rated)}`}
    </Fact>
  );
}

function CardFacts({ drive: { card, profile, supply } }: { drive: DriveSupply }) {
  const { price, currency, enduranceBytes, powerOnHours, firmware, loudnessDecibels, loudnessMetres, note } =
    card.details;
  const known =
    price !== null ||
    enduranceBytes !== null ||
    powerOnHours !== null ||
    firmware !== '' ||
    loudnessDecibels !== null ||
    note !== '';
  return (
    <>
      {price !== null && (
        <Fact name="price">
          {formatNumber(price, 'full')} {currency}, {formatNumber(price / Math.max(1e-3, card.capacityBytes / 1e12))} a
          TB
        </Fact>
      )}
      {enduranceBytes !== null && <Fact name="may be written">{bytesText(enduranceBytes)}</Fact>}
      {powerOnHours !== null && <Fact name="has run">{formatNumber(powerOnHours, 'full')} h</Fact>}
      {firmware !== '' && <Fact name="firmware">{firmware}</Fact>}
      {loudnessDecibels !== null && (
        <Fact name="loudness">
          {formatNumber(loudnessDecibels)} dB(A){loudnessMetres === null ? '' : ` at ${formatNumber(loudnessMetres)} m`}
        </Fact>
      )}
      {profile && !supply?.isPromise && <Fact name="runs">{formatNumber(profile.runs.length, 'full')}</Fact>}
      {note !== '' && <Typography variant="body2">{note}</Typography>}
      {!known && <Typography variant="body2">Nobody has told price, endurance or loudness yet.</Typography>}
    </>
  );
}

/** Where a drive that was typed has been measured since: its runs take over, and its promise stays beside them. */
function JoinMeasured({ typed, onDrive }: { typed: DriveCard; onDrive: (driveId: string) => void }) {
  const drives = useLibrary((state) => state.drives);
  const measured = drives.filter(({ identityKind, example }) => identityKind !== 'typed' && !example);
  if (measured.length === 0) return null;
  const join = async (measuredId: string) => {
    try {
      const { id } = await api.joinDrives(typed.id, measuredId);
      await refresh('drives');
      onDrive(id);
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <>
      <Heading>Measured since?</Heading>
      <Typography variant="body2">
        Its runs take over then, and what its box promises stays beside them on one card.
      </Typography>
      {measured.map(({ id, label }) => (
        <Button key={id} variant="text" onClick={() => void join(id)} sx={{ ...COLUMN_BUTTON, display: 'block' }}>
          It is {label}
        </Button>
      ))}
    </>
  );
}

function DriveList({ current, onDrive }: { current: string; onDrive: (driveId: string) => void }) {
  const drives = useLibrary((state) => state.drives);
  return (
    <ChoiceList label="Drives">
      {drives.map(({ id, label, details, medium, identityKind }) => (
        <ChoiceItem key={id} chosen={id === current} onChoose={() => onDrive(id)}>
          <ChoiceText name={label} more={`${kindText({ details, medium })}${boxMark(identityKind === 'typed')}`} />
        </ChoiceItem>
      ))}
    </ChoiceList>
  );
}
