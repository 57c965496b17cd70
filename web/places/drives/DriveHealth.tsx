import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { enduranceByItsCount, healthFacts, type DriveHealth as Health } from '#core/2-trade/drives/health.ts';
import type { DriveCard, HealthEntry } from '#core/6-exchange/api/wire.ts';
import { longDay, bytesText } from '#core/1-ground/units/format.ts';
import type { Problem } from '#core/1-ground/problem.ts';
import { api } from '../../api/client.ts';
import { mayChange } from '../../api/session.ts';
import { useAttempt } from '../../kit/use-attempt.ts';
import { Fact, Heading, ProblemText } from '../../kit/words.tsx';
import { refresh, useLibrary } from '../../state/library.ts';

/** What a drive says of itself: now, while it is attached, else when it was measured last; or what would let it. */
export function DriveHealth({ card }: { card: DriveCard }) {
  const driveId = card.id;
  const volumeId = useLibrary(
    (state) => state.volumes.find((volume) => volume.kind === 'real' && volume.driveId === driveId)?.id,
  );
  const told = useLibrary(
    (state) => state.runs.find(({ run }) => run.drive.id === driveId && run.conditions.told)?.run,
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
  if (volumeId !== undefined && answer?.volumeId !== volumeId) return null;
  const now = volumeId === undefined ? null : (answer?.entry ?? null);
  const earlier = told?.conditions.told?.end ?? told?.conditions.told?.start ?? null;
  const health = now?.health ?? earlier;
  if (health === null && now === null) return null;
  return (
    <>
      <Heading>
        What it says of itself
        {now?.health || !earlier || !told ? '' : `, as on ${longDay(told.startedAt)}`}
      </Heading>
      {health
        ? healthFacts(health).map(({ name, text }) => (
            <Fact key={name} name={name}>
              {text}
            </Fact>
          ))
        : null}
      {now?.why && (
        <Typography variant="body2" color="textSecondary">
          {now.why}
        </Typography>
      )}
      {health && <ItsEndurance card={card} health={health} />}
    </>
  );
}

/** What it takes until its promise ends, where its own counts tell it and its card does not. */
function ItsEndurance({ card, health }: { card: DriveCard; health: Health }) {
  const { problem, attempt } = useAttempt();
  const endurance = enduranceByItsCount(health);
  if (endurance === null || card.details.enduranceBytes !== null) return null;
  const least = Number(endurance.least.toPrecision(3));
  const keep = () =>
    attempt(async () => {
      await api.changeDrive(card.id, { label: card.label, details: { ...card.details, enduranceBytes: least } });
      await refresh('drives');
    });
  return (
    <>
      <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
        By these counts it takes {bytesText(least)} to {bytesText(endurance.most)} until its promise ends. Its card does
        not say; Sizing goes by the card.
      </Typography>
      {mayChange() && (
        <Button variant="text" sx={{ fontSize: 13.5, px: 0.5, ml: -0.5 }} onClick={() => void keep()}>
          Keep {bytesText(least)} as its endurance
        </Button>
      )}
      {problem !== undefined && <ProblemText>{problem}</ProblemText>}
    </>
  );
}
