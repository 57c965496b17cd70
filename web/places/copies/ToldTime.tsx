import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { copyingSeconds } from '#core/5-answers/copies/copy-words.ts';
import { predictCopy } from '#core/5-answers/copies/predict.ts';
import { parseToldTime, readToldTime, toldTimeFault, type KnownCopy } from '#core/5-answers/copies/told-time.ts';
import { sideOf } from '#core/5-answers/compare/compare-drives.ts';
import { formatDuration, rateText } from '#core/1-ground/units/format.ts';
import { TextLine } from '../../kit/form.tsx';
import { Doubts, Fact } from '../../kit/words.tsx';
import type { DriveSupply } from '../../state/drive-supplies.ts';

/** What is known of copying so many bytes, in one file, from one drive to another. */
function knownCopy(bytes: number, from: DriveSupply, to: DriveSupply): KnownCopy {
  const payload = { bytes, files: 1, parallelFiles: 1, verifies: false };
  const copy = from.profile && to.profile ? predictCopy(payload, from.profile, [to.profile]) : null;
  return {
    predictedSeconds: copy && copyingSeconds(copy),
    target: { label: to.card.label, roomBytes: to.roomBytes },
  };
}

/** A time that somebody else measured between the chosen drives: the rate, the link it would fit, and what to doubt. */
export function ToldTime({ from, to }: { from: DriveSupply | undefined; to: DriveSupply | undefined }) {
  const [text, setText] = useState('');
  const fault = text.trim() === '' ? null : toldTimeFault(text);
  const told = text.trim() === '' || fault !== null ? null : parseToldTime(text);
  const known = told && from && to ? knownCopy(told.bytes, from, to) : null;
  const reading =
    told === null
      ? null
      : readToldTime(
          told,
          [from, to].flatMap((drive, index) =>
            drive?.profile
              ? [
                  {
                    label: drive.card.label,
                    hops: drive.profile.connection.hops,
                    bestBytesPerSecond:
                      sideOf(drive.profile, index === 0 ? 'read' : 'write')?.openingBytesPerSecond ?? null,
                  },
                ]
              : [],
          ),
          known,
        );
  return (
    <Box data-told="">
      <TextLine
        label="A time that was told"
        help="By somebody else for such a copy, such as 173 GB in 2:08."
        value={text}
        {...(fault === null ? {} : { error: fault })}
        onChange={setText}
      />
      {reading && (
        <>
          <Fact name="comes to">{rateText(reading.bytesPerSecond)}</Fact>
          <Fact name="needs at least">{reading.leastLink?.label ?? 'more than any link known here'}</Fact>
          {reading.tooSlowLink && <Fact name="too much for">{reading.tooSlowLink.label}</Fact>}
          {reading.doubts.length === 0 ? (
            <Typography variant="body2">
              {known === null || known.predictedSeconds === null
                ? 'Nothing known of their links speaks against it; what they take themselves was not measured.'
                : `By their own runs it takes ${formatDuration(known.predictedSeconds)}: nothing known of these drives speaks against it.`}
            </Typography>
          ) : (
            <Doubts>{reading.doubts}</Doubts>
          )}
        </>
      )}
    </Box>
  );
}
