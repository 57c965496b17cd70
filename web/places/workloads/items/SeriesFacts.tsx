import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { growthOf, sumOf } from '#core/3-jobs/demand/series/frame-bytes.ts';
import { seriesWork } from '#core/3-jobs/demand/series/series-kind.ts';
import type { SeriesItem } from '#core/3-jobs/demand/series/series-item.ts';
import { bytesText, formatDuration, formatNumber, formatShare } from '#core/1-ground/units/format.ts';
import { frameRateText } from '#core/1-ground/units/frame-rate.ts';
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
  halfDepthSentence,
  largestSaving,
  savingSentence,
} from '#core/5-answers/verdict/series/series-words.ts';
import { Fact, Heading } from '../../../kit/words.tsx';
import { ink } from '../../../theme/tokens.ts';
import type { DriveSupply } from '../../../state/drive-supplies.ts';
import type { ItemViewProps } from './item-view.ts';
import { ObservedFacts } from './ObservedFacts.tsx';

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
  return (
    <>
      <Typography sx={{ mt: 0.5 }} data-series-sentence="">
        {saving ? `${savingSentence(saving)} ` : ''}
        {beyondSentence(item)}
      </Typography>
      {drive && <OnDrive item={item} drive={drive} compute={work.compute} />}
      <FrameParts item={item} />
      {half !== null && (
        <Typography variant="body2" sx={{ mt: 0.5 }}>
          {half}
        </Typography>
      )}
      <Heading>All {formatNumber(item.frameCount, 'full')} frames</Heading>
      <Fact name="a version">{bytesText(version)}</Fact>
      {item.versions > 1 && (
        <Fact name={`${formatNumber(item.versions, 'full')} versions kept`}>{bytesText(version * item.versions)}</Fact>
      )}
      <Fact name="computing">{formatDuration(sumOf(work.compute))}</Fact>
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
      <Heading>On {card.label}</Heading>
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
        <Fact name="fits">
          {full === null
            ? `yes, in ${bytesText(roomBytes)}`
            : `no: full at frame ${formatNumber(full.frame, 'full')}${item.versions > 1 ? ` of version ${formatNumber(full.version)}` : ''}`}
        </Fact>
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
        </>
      )}
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
