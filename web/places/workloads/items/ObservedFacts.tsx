import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { fitTimes, rateBeyondWhich, type FittedTime } from '#core/3-jobs/demand/observed/fit-times.ts';
import type { Observation } from '#core/3-jobs/demand/observed/observation.ts';
import { LITTLE_SHARE } from '#core/5-answers/verdict/series/series-words.ts';
import { bytesText, formatDuration, formatNumber, formatShare, rateText } from '#core/1-ground/units/format.ts';
import { Fact, Heading } from '../../../kit/words.tsx';
import { ink } from '../../../theme/tokens.ts';

/** Times that were seen, taken apart into what a drive can change and what it cannot. */
export function ObservedFacts({ observed }: { observed: readonly Observation[] }) {
  if (observed.length === 0) return null;
  const fit = fitTimes(observed);
  if (!fit) {
    return (
      <>
        <Heading>Times you have seen</Heading>
        <Typography variant="body2">Times on a second drive, of another rate, would tell both parts apart.</Typography>
      </>
    );
  }
  const { otherSeconds, bytes, otherError, bytesError, times } = fit;
  const beyond = rateBeyondWhich(otherSeconds, bytes, LITTLE_SHARE);
  const fastest = Math.max(...times.map((one) => one.bytesPerSecond));
  const left = bytes / fastest;
  return (
    <Box data-observed="">
      <Heading>Times you have seen</Heading>
      <Fact name="not waiting for a drive">
        {formatDuration(otherSeconds)}
        {otherError === null ? '' : ` ± ${formatDuration(otherError)}`}
      </Fact>
      <Fact name="read from the drive">
        {bytesText(bytes)}
        {bytesError === null ? '' : ` ± ${bytesText(bytesError)}`}
      </Fact>
      <Fact name="a faster drive could save">
        {formatDuration(left)}, {formatShare(left / Math.max(1e-9, otherSeconds + left))}
      </Fact>
      {otherError === null && (
        <Typography variant="body2">
          As many times as unknowns: they fit whatever they are, and nothing tells how sure this is. A third would.
        </Typography>
      )}
      {beyond !== null && beyond > 0 && <Fact name="beyond it less than 5 %">{rateText(beyond)}</Fact>}
      {times.map((time, index) => (
        <SeenTime key={index} time={time} />
      ))}
    </Box>
  );
}

function SeenTime({ time: { label, seconds, residualSeconds, isOutlier, isWarm } }: { time: FittedTime }) {
  const sign = residualSeconds < 0 ? '−' : '+';
  const apart = isWarm ? ', warm: not counted' : isOutlier ? ', far off: not counted' : '';
  return (
    <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 2, fontSize: 12.5, color: ink('second') }}>
      <span>
        {label}
        {apart}
      </span>
      <span>
        {formatDuration(seconds)} ({sign}
        {formatNumber(Math.abs(residualSeconds))} s)
      </span>
    </Box>
  );
}
