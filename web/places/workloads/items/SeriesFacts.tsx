import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { growthOf, sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { bytesText, count, formatDuration, formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { frameRateText } from '#core/1-ground/units/frame-rate.ts';
import { boxMark, LOST_WITH_MACHINE } from '#core/2-trade/drives/medium.ts';
import { previewText, seenPreviews } from '#core/5-answers/verdict/series/seen-previews.ts';
import { seenTimes } from '#core/5-answers/verdict/series/seen-times.ts';
import { fullText, helpText, whatHelps } from '#core/5-answers/verdict/series/what-helps.ts';
import { shareRange } from '#core/5-answers/verdict/series/judge-series.ts';
import {
  fullAt,
  playbackRates,
  seriesOnDrive,
  writeBoundFrames,
} from '#core/5-answers/verdict/series/series-on-drive.ts';
import {
  beyondSentence,
  channelCosts,
  depthCosts,
  halfDepthSentence,
  largestSaving,
  savingSentence,
} from '#core/5-answers/verdict/series/series-words.ts';
import { Fact, Heading } from '../../../kit/words.tsx';
import { ink } from '../../../theme/tokens.ts';
import { useWorkload } from '../../../state/judged.ts';
import { tellFailure } from '../../../state/library.ts';
import { saveWorkload } from '../../../state/workload-edits.ts';
import type { DriveSupply } from '../../../state/drive-supplies.ts';
import type { ItemViewProps } from './item-view.ts';
import { ObservedFacts } from './ObservedFacts.tsx';
import { toHelp } from './to-help.ts';

/** What a cache series comes to: what a drive can win, what a frame is made of, and how it goes on the chosen drive. */
export function SeriesFacts({ item, drives, selectedDrive }: ItemViewProps<SeriesItem>) {
  const work = useMemo(() => seriesWork(item), [item]);
  const saving = useMemo(
    () =>
      largestSaving(
        drives.map(({ card, supply }) => ({ label: card.label, on: supply ? seriesOnDrive(item, supply) : null })),
      ),
    [item, drives],
  );
  const version = sumOf(work.bytes);
  const drive = drives.find(({ card }) => card.id === selectedDrive) ?? drives[0];
  const half = halfDepthSentence(item);
  const seen = useMemo(() => seenTimes(item), [item]);
  return (
    <>
      <Typography sx={{ mt: 0.5 }} data-series-sentence="">
        {seen
          ? seen.sentence
          : `${saving && !work.holdsWriting ? `${savingSentence(saving)} ` : ''}${beyondSentence(item)}`}
      </Typography>
      {seen !== null && seen.clash !== null && seen.computeSeconds !== null && (
        <Clash clash={seen.clash} taken={{ ...item, computeSeconds: [seen.computeSeconds] }} />
      )}
      {drive && <WhatHelps item={item} now={drive} drives={drives} />}
      {drive && <OnDrive item={item} drive={drive} compute={work.compute} />}
      <SeenOnDrives item={item} drives={drives} />
      <FrameParts item={item} />
      {half !== null && (
        <Typography variant="body2" sx={{ mt: 0.5 }}>
          {half}
        </Typography>
      )}
      <Depths item={item} />
      <VersionsThatFit drives={drives} version={version} />
      <Heading>All {formatNumber(item.frameCount, 'full')} frames</Heading>
      <Fact name="a version">{bytesText(version)}</Fact>
      {item.versions > 1 && (
        <Fact name={`${formatNumber(item.versions, 'full')} versions kept`}>{bytesText(version * item.versions)}</Fact>
      )}
      <Fact name={work.holdsWriting ? 'computing and writing' : 'computing'}>
        {formatDuration(sumOf(work.compute))}
      </Fact>
      <Fact name="writer">
        {item.queueFrames === 0
          ? 'waits for each frame'
          : `up to ${formatNumber(item.queueFrames)} ${item.queueFrames === 1 ? 'frame waits' : 'frames wait'}`}
      </Fact>
      <ObservedFacts observed={item.observed} />
    </>
  );
}

function OnDrive({
  item,
  drive: { card, supply, roomBytes },
  compute,
}: {
  item: SeriesItem;
  drive: DriveSupply;
  compute: Float64Array;
}) {
  const on = useMemo(() => (supply ? seriesOnDrive(item, supply) : null), [item, supply]);
  const rates = supply ? playbackRates(item, supply) : null;
  const full = fullAt(item, roomBytes);
  const bound = on ? writeBoundFrames(on.neverEmptied, compute) : null;
  return (
    <>
      <Heading>
        On {card.label}
        {boxMark(supply?.isPromise)}
      </Heading>
      {on ? (
        <>
          <Fact name="whole simulation">{formatDuration(on.neverEmptied.totalSeconds)}</Fact>
          <Fact name="share of the drive">{shareRange(on)}</Fact>
          {on.provenBytes < on.bytes && (
            <Fact name="measured for">{bytesText(on.provenBytes)}, the rest at its floor</Fact>
          )}
          {bound && (
            <Fact name="writing takes longer">
              {bound.count === item.frameCount
                ? 'than computing, on every frame'
                : `than computing, frames ${formatNumber(bound.first, 'full')} – ${formatNumber(bound.last, 'full')}`}
            </Fact>
          )}
        </>
      ) : (
        <Typography variant="body2">Writing has not been measured on it.</Typography>
      )}
      {roomBytes !== null && (
        <Fact name="fits">{full === null ? `yes, in ${bytesText(roomBytes)}` : `no: ${fullText(full)}`}</Fact>
      )}
      {item.playback && rates && (
        <>
          <Fact name={`played back, of ${frameRateText(item.playback.frameRate)} needed`}>
            {formatNumber(rates.plain)} a second cold
          </Fact>
          {rates.readAhead > rates.plain * 1.02 && (
            <Fact name="reading ahead">{formatNumber(rates.readAhead)} a second</Fact>
          )}
          <Fact name="once in memory">
            {rates.fromMemory === null ? 'as fast as it is shown' : `${formatNumber(rates.fromMemory)} a second`}
          </Fact>
          <Fact name={`looking at all ${formatNumber(item.frameCount, 'full')}`}>
            {[
              `${formatDuration(item.frameCount / rates.plain)} cold`,
              `${formatDuration(item.frameCount / rates.readAhead)} reading ahead`,
              ...(rates.fromMemory === null
                ? []
                : [`${formatDuration(item.frameCount / rates.fromMemory)} from memory`]),
            ].join(', ')}
          </Fact>
        </>
      )}
    </>
  );
}

/** Previews that were seen beside what is computed, and the time of showing that follows from them. */
function SeenOnDrives({ item, drives }: { item: SeriesItem; drives: readonly DriveSupply[] }) {
  const seen = useMemo(
    () =>
      seenPreviews(
        item,
        drives.flatMap(({ card, supply }) => (supply ? [{ label: card.label, supply }] : [])),
      ),
    [item, drives],
  );
  if (seen === null) return null;
  const { previews, showSeconds, clash } = seen;
  const { playback } = item;
  return (
    <Box data-previews="">
      <Heading>Previews you have seen</Heading>
      {previews.map((one, index) => (
        <Fact key={index} name={one.label}>
          {previewText(one)}
        </Fact>
      ))}
      {clash !== null && showSeconds !== null && playback && (
        <Clash clash={clash} taken={{ ...item, playback: { ...playback, showSeconds } }} />
      )}
    </Box>
  );
}

/** Typed and seen times that clash, and the seen to take over. */
function Clash({ clash, taken }: { clash: string; taken: SeriesItem }) {
  const workload = useWorkload();
  const take = () => {
    if (!workload) return;
    const items = workload.items.map((one) => (one.id === taken.id ? taken : one));
    void saveWorkload({ ...workload, items }).then((problem) => {
      if (problem !== undefined) tellFailure(new Error(problem));
    });
  };
  return (
    <Box sx={{ mt: 0.5 }} data-clash="">
      <Typography variant="body2">{clash}</Typography>
      <Button variant="text" onClick={take} sx={{ ml: -0.75 }}>
        Take the seen
      </Button>
    </Box>
  );
}

/** So many are told in sentences; all of them stand in a table. */
const MOST_HELPS = 3;

/** A drive or a processor: what saves most for its money. */
function WhatHelps({ item, now, drives }: { item: SeriesItem; now: DriveSupply; drives: readonly DriveSupply[] }) {
  const helps = useMemo(() => {
    const own = toHelp(now);
    return own
      ? whatHelps(
          item,
          own,
          drives.filter((one) => one !== now).flatMap((one) => toHelp(one) ?? []),
        )
      : [];
  }, [item, now, drives]);
  if (helps.length === 0) return null;
  return (
    <>
      <Heading>What helps, written to {now.card.label} now</Heading>
      {helps.slice(0, MOST_HELPS).map((help) => (
        <Typography key={help.label} variant="body2" sx={{ mt: 0.5 }} data-help="">
          {helpText(help)}
        </Typography>
      ))}
      {helps.length > MOST_HELPS && (
        <Typography variant="caption" component="p" color="textSecondary">
          {count(helps.length - MOST_HELPS, 'more is', 'more are')} listed under For the money.
        </Typography>
      )}
    </>
  );
}

function Depths({ item }: { item: SeriesItem }) {
  const depths = depthCosts(item);
  if (depths.length < 2) return null;
  return (
    <>
      <Heading>At other depths</Heading>
      {depths.map(({ bits, frameBytes, seriesBytes }) => (
        <Fact key={bits} name={`all of it at ${bits} bit`}>
          {bytesText(frameBytes)} <span style={{ color: ink('second') }}>a version {bytesText(seriesBytes)}</span>
        </Fact>
      ))}
    </>
  );
}

/** On each drive whose room is known, how many versions of it there is room for. */
function VersionsThatFit({ drives, version }: { drives: readonly DriveSupply[]; version: number }) {
  const known = drives.filter(({ roomBytes }) => roomBytes !== null);
  if (known.length === 0) return null;
  return (
    <>
      <Heading>Versions that fit</Heading>
      {known.map(({ card, roomBytes }) => (
        <Fact key={card.id} name={card.label}>
          {formatNumber(Math.floor(roomBytes! / version), 'full')}{' '}
          <span style={{ color: ink('second') }}>in {bytesText(roomBytes!)}</span>
          {card.medium === 'memory' ? `, ${LOST_WITH_MACHINE}` : ''}
        </Fact>
      ))}
    </>
  );
}

function FrameParts({ item }: { item: SeriesItem }) {
  const { frames } = item;
  const { bytes } = seriesWork(item);
  const mean = sumOf(bytes) / item.frameCount;
  if (frames.kind === 'files') {
    const growth = growthOf(bytes);
    return (
      <>
        <Heading>One frame, as they lie in {frames.label}</Heading>
        <Fact name="on average">{bytesText(mean)}</Fact>
        <Fact name="smallest – largest">
          {bytesText(bytes.reduce((least, one) => Math.min(least, one), Infinity))} –{' '}
          {bytesText(bytes.reduce((most, one) => Math.max(most, one), 0))}
        </Fact>
        {Math.abs(growth - 1) > 0.02 && <Fact name="last tenth against first">{formatNumber(growth)} times</Fact>}
        {frames.missingCount > 0 && <Fact name="missing">{formatNumber(frames.missingCount, 'full')} frames</Fact>}
      </>
    );
  }
  if (frames.kind === 'size') return <Heading>One frame, {bytesText(mean)}</Heading>;
  return (
    <>
      <Heading>What a frame is made of, {bytesText(mean)}</Heading>
      {channelCosts(item).map(({ name, components, bits, frameBytes }) => (
        <Fact key={name} name={`${name}, ${components > 1 ? `${components} × ` : ''}${bits} bit`}>
          {bytesText(frameBytes)} <span style={{ color: ink('second') }}>{formatShare(frameBytes / mean)}</span>
        </Fact>
      ))}
      {frames.headerBytes > 0 && <Fact name="beside the channels">{bytesText(frames.headerBytes)}</Fact>}
      <Typography variant="caption" component="p" color="textSecondary" sx={{ mt: 0.25 }}>
        {formatNumber(frames.voxels.x)} × {formatNumber(frames.voxels.y)} × {formatNumber(frames.voxels.z)} voxels,{' '}
        {formatShare(frames.occupancyShare)} kept{frames.ratio > 1 ? `, ${formatNumber(frames.ratio)}:1` : ''}
      </Typography>
    </>
  );
}
