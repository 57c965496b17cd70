import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { parseToldTime, readToldTime, toldTimeFault } from '#core/copies/told-time.ts';
import { sideOf } from '#core/compare/compare-drives.ts';
import { rateText } from '#core/units/format.ts';
import { TextLine } from '../../kit/form.tsx';
import { DoubtText, Fact } from '../../kit/words.tsx';
import type { DriveSupply } from '../../state/drive-supplies.ts';

/** A time that somebody else measured between the chosen drives: the rate, the link it would fit, and what to doubt. */
export function ToldTime({ from, to }: { from: DriveSupply | undefined; to: DriveSupply | undefined }) {
  const [text, setText] = useState('');
  const fault = text.trim() === '' ? null : toldTimeFault(text);
  const reading =
    text.trim() === '' || fault !== null
      ? null
      : readToldTime(
          parseToldTime(text),
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
            <Typography variant="body2">Nothing known of these drives speaks against it.</Typography>
          ) : (
            <Box component="ul" sx={{ m: 0, p: 0 }}>
              {reading.doubts.map((doubt) => (
                <DoubtText key={doubt}>{doubt}</DoubtText>
              ))}
            </Box>
          )}
        </>
      )}
    </Box>
  );
}
