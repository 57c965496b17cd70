import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { healthFacts } from '#core/2-trade/drives/health.ts';
import type { HealthEntry } from '#core/6-exchange/api/wire.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { api } from '../../api/client.ts';
import { Fact, Heading } from '../../kit/words.tsx';
import { useLibrary } from '../../state/library.ts';

/** What a drive says of itself while it is attached, or what would let it; nothing for one that is not here. */
export function DriveHealth({ driveId }: { driveId: string }) {
  const volumeId = useLibrary(
    (state) => state.volumes.find((volume) => volume.kind === 'real' && volume.driveId === driveId)?.id,
  );
  // With the volume that it is of: another drive’s is not shown for a moment.
  const [answer, setAnswer] = useState<{ volumeId: string; entry: HealthEntry }>();
  useEffect(() => {
    if (volumeId === undefined) return;
    let isGone = false;
    void api
      .health(volumeId)
      .catch((error: unknown): HealthEntry => ({ health: null, why: (error as Problem).detail }))
      .then((entry) => {
        if (!isGone) setAnswer({ volumeId, entry });
      });
    return () => {
      isGone = true;
    };
  }, [volumeId]);
  if (volumeId === undefined || answer?.volumeId !== volumeId) return null;
  const { health, why } = answer.entry;
  return (
    <>
      <Heading>What it says of itself</Heading>
      {health ? (
        healthFacts(health).map(({ name, text }) => (
          <Fact key={name} name={name}>
            {text}
          </Fact>
        ))
      ) : (
        <Typography variant="body2" color="textSecondary">
          {why}
        </Typography>
      )}
    </>
  );
}
