import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import { boxMark } from '#core/2-trade/drives/medium.ts';
import { phaseBytes, type LoadItem, type Phase } from '#core/3-jobs/demand/loads/load-item.ts';
import { isFootage } from '#core/3-jobs/demand/items.ts';
import { readRequests } from '#core/4-runs/supply/profile.ts';
import { blockText, bytesText, formatDuration, formatNumber } from '#core/1-ground/units/format.ts';
import { leastDriveClass, leastLink } from '#core/5-answers/verdict/loads/least-drive.ts';
import { enoughSentence, processorSentence } from '#core/5-answers/verdict/loads/load-words.ts';
import { libraryOnDrive } from '#core/5-answers/verdict/loads/library.ts';
import { loadTimes, type LoadTimes } from '#core/5-answers/verdict/loads/phase-times.ts';
import { Fact, Heading } from '../../../kit/words.tsx';
import { useContextStore } from '../../../state/context.ts';
import type { DriveSupply } from '../../../state/drive-supplies.ts';
import { useWorkload } from '../../../state/judged.ts';
import type { ItemViewProps } from './item-view.ts';
import { ObservedFacts } from './ObservedFacts.tsx';

/** What a load does, how it goes on the chosen drive, and the least that would do. */
export function LoadFacts({ item, drives, selectedDrive }: ItemViewProps<LoadItem>) {
  const drive = drives.find(({ card }) => card.id === selectedDrive) ?? drives[0];
  const hasLimit = item.phases.some(({ limitSeconds, stream }) => limitSeconds !== null || stream !== null);
  const enough = useMemo(() => enoughSentence(item), [item]);
  const least = useMemo(() => ({ drive: leastDriveClass(item), link: leastLink(item) }), [item]);
  return (
    <>
      <Typography sx={{ mt: 0.5 }} data-load-sentence="">
        {least.drive === null
          ? 'No class of drive stays within every limit: the processor alone takes too long, or too much is wanted at once.'
          : !hasLimit
            ? 'No limit is given to hold any drive against.'
            : `The least that stays within every limit is ${least.drive}${least.link === null ? '; no usual network does' : `, or flash behind ${least.link}`}.`}
      </Typography>
      {enough !== null && (
        <Typography variant="body2" sx={{ mt: 0.5 }}>
          {enough}
        </Typography>
      )}
      {drive && <OnDrive item={item} drive={drive} />}
      <Heading>What it does</Heading>
      {item.phases.map((phase) => (
        <Fact key={phase.name} name={phase.name}>
          {phaseText(phase)}
        </Fact>
      ))}
      {item.installBytes !== null && <Fact name="on the drive">{bytesText(item.installBytes)}</Fact>}
      {drive && <Library drive={drive} />}
      <ObservedFacts observed={item.observed} />
    </>
  );
}

function phaseText(phase: Phase): string {
  const parts = [
    phase.processorSeconds > 0 ? `${formatDuration(phase.processorSeconds)} computing` : '',
    phase.bytes > 0
      ? `${bytesText(phase.bytes)} in ${blockText(phase.requestBytes)}${phase.parallel > 1 ? ` ×${phase.parallel}` : ''}`
      : '',
    phase.stream ? `every ${formatDuration(phase.stream.everySeconds)}, ${bytesText(phaseBytes(phase))} in all` : '',
    phase.writtenBytes ? `${bytesText(phase.writtenBytes)} written` : '',
    phase.operations > 0 ? `${formatNumber(phase.operations)} files` : '',
  ];
  return parts.filter(Boolean).join(', ');
}

function OnDrive({ item, drive: { card, supply } }: { item: LoadItem; drive: DriveSupply }) {
  const navigate = useNavigate();
  const { recipeOptions, set, makeCurrent } = useContextStore();
  const times = useMemo(() => (supply ? loadTimes(item, readRequests(supply)) : null), [item, supply]);
  const processor = times === null ? null : processorSentence(times);
  return (
    <>
      <Heading>
        On {card.label}
        {boxMark(supply?.isPromise)}
      </Heading>
      {times ? (
        <PhaseFacts times={times} />
      ) : (
        <Typography variant="body2">
          {supply ? 'Reading has not been measured on it.' : 'Its runs are being read.'}
        </Typography>
      )}
      {processor !== null && <Typography variant="body2">{processor}</Typography>}
      {times && !times.isMeasured && (
        <Typography variant="body2">
          At its rate in one go, the most it can be: requests of this size were not measured.
        </Typography>
      )}
      <Button
        variant="text"
        sx={{ ml: -0.75, fontSize: 13.5 }}
        onClick={() => {
          set({ recipeId: 'replay', recipeOptions: { ...recipeOptions, replay: { phases: item.phases } } });
          makeCurrent(card.id);
          void navigate('/measure');
        }}
      >
        Replay it on this drive
      </Button>
    </>
  );
}

function PhaseFacts({ times }: { times: LoadTimes }) {
  return times.phases.map(({ name, totalSeconds, waitingSeconds, stream }) =>
    stream ? (
      <Fact key={name} name={name}>
        {stream.stuttersPerMinute < 0.005
          ? 'no stutter'
          : `${formatNumber(stream.stuttersPerMinute)} stutters a minute`}
        , worst {formatDuration(stream.worstSeconds)}
      </Fact>
    ) : (
      <Fact key={name} name={name}>
        {formatDuration(totalSeconds)}, {formatDuration(waitingSeconds)} waiting
      </Fact>
    ),
  );
}

/** A workload of several loads is a library: which of them may live on this drive. */
function Library({ drive: { card, supply, roomBytes } }: { drive: DriveSupply }) {
  const workload = useWorkload();
  const headroomShare = useContextStore((state) => state.headroomShare);
  const loads = (workload?.items ?? []).filter((item): item is LoadItem => !isFootage(item) && item.kind === 'load');
  if (!supply || loads.length < 2) return null;
  const { may, open, stay, bytes } = libraryOnDrive(loads, supply, { headroomShare }, roomBytes);
  const names = (list: readonly LoadItem[]) => list.map(({ name }) => name).join(', ');
  return (
    <>
      <Heading>
        The whole library on {card.label}
        {boxMark(supply.isPromise)}
      </Heading>
      <Typography variant="body2">
        {may.length === 0
          ? 'None of them is known to do well there.'
          : `${names(may)} may live there${bytes > 0 ? `, ${bytesText(bytes)}` : ''}.`}
        {stay.length > 0 ? ` ${names(stay)} should stay elsewhere.` : ''}
        {open.length > 0 ? ` Not known of ${names(open)}: no run tells.` : ''}
      </Typography>
    </>
  );
}
