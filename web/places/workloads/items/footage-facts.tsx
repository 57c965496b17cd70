import Typography from '@mui/material/Typography';
import { demandOf } from '#core/3-jobs/demand/footage/footage-demand.ts';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { explainRate } from '#core/2-trade/media/explain.ts';
import { bytesText, figureText, formatBitRate, formatDuration, rateText } from '#core/1-ground/units/format.ts';
import { Fact, Heading } from '../../../kit/words.tsx';

/** How the number of an item of footage comes about. */
export function footageFacts(item: FootageItem) {
  const demand = demandOf(item);
  const takeBytes = demand.bytesPerSecond * demand.takeSeconds;
  return (
    <>
      <Typography variant="body2" color="textSecondary">
        {item.action === 'record' ? 'Records' : 'Plays'} {demand.formatText}
      </Typography>
      <Heading>How the number comes about</Heading>
      {explanationOf(item).map((line) => (
        <Typography key={line} variant="body2" sx={{ fontSize: 13, lineHeight: 1.4, mb: 0.5 }}>
          {line}
        </Typography>
      ))}
      <Heading>What it asks for</Heading>
      <Fact name="on average">
        {rateText(demand.bytesPerSecond)}, {figureText(formatBitRate(demand.bytesPerSecond))}
      </Fact>
      {demand.peakBytesPerSecond > demand.bytesPerSecond * 1.001 && (
        <Fact name="in its worst second">{rateText(demand.peakBytesPerSecond)}</Fact>
      )}
      <Fact
        name={demand.takes > 1 ? `a take, ${formatDuration(demand.takeSeconds)}` : formatDuration(demand.takeSeconds)}
      >
        {bytesText(takeBytes)}
      </Fact>
      {demand.takes > 1 && <Fact name={`all ${demand.takes} takes`}>{bytesText(takeBytes * demand.takes)}</Fact>}
      <Fact name="buffer of the program">
        {bytesText(demand.bufferBytes)}, {formatDuration(demand.bufferBytes / demand.bytesPerSecond)}
      </Fact>
    </>
  );
}

function explanationOf({ essence, streams }: FootageItem): string[] {
  switch (essence.kind) {
    case 'picture':
      return explainRate(essence, streams);
    case 'sound': {
      const { tracks, samplesPerSecond, bytesPerSample } = essence.sound;
      const times = streams > 1 ? ` × ${streams} streams` : '';
      return [
        `${tracks} tracks × ${samplesPerSecond.toLocaleString('en-US')} samples a second × ${bytesPerSample} B${times}`,
      ];
    }
    case 'own':
      return [
        `${rateText(essence.bytesPerSecond)} a stream, as you gave it${streams > 1 ? `, × ${streams} streams` : ''}`,
      ];
    case 'measured':
      return [
        `Taken from ${essence.label}: ${rateText(essence.bytesPerSecond)} on average, ${rateText(essence.peakBytesPerSecond)} in its worst second${streams > 1 ? `, × ${streams} streams` : ''}`,
        `Its busiest stretch is ${bytesText(essence.burstBytes)} above its average`,
      ];
    case 'curve':
      return [`Follows ${essence.label}, second by second${streams > 1 ? `, × ${streams}` : ''}`];
  }
}
