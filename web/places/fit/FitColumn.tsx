import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useDeferredValue, useMemo } from 'react';
import type { FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { isFootage, type Item } from '#core/3-jobs/demand/items.ts';
import { rasterText } from '#core/2-trade/media/rasters.ts';
import { missingParts, traceBehind } from '#core/4-runs/supply/profile.ts';
import {
  bytesText,
  figureText,
  formatBitRate,
  formatDuration,
  longDay,
  rateText,
} from '#core/1-ground/units/format.ts';
import { frameRateText } from '#core/1-ground/units/frame-rate.ts';
import { VERDICT_INK, verdictName } from '#core/5-answers/verdict/verdict.ts';
import { howFar, type Limit } from '#core/5-answers/verdict/how-far.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { questionText } from '#core/6-exchange/report/question.ts';
import { PutIntoReport } from '../../frame/PutIntoReport.tsx';
import { saveJson } from '../../kit/save-json.ts';
import { Doubts, Fact, Heading } from '../../kit/words.tsx';
import { InlineVerdict } from '../../pictures/kit/verdict-marks.tsx';
import type { JudgedItem } from '#core/5-answers/verdict/judge-workload.ts';
import { useContextStore } from '../../state/context.ts';
import { ink } from '../../theme/tokens.ts';
import type { FitDrive } from './use-fit.ts';

interface FitColumnProps {
  judged: JudgedItem;
  drive: FitDrive;
  workload: Workload;
  /** The item behind it; undefined for what goes on together. */
  item: Item | undefined;
}

/** The sentence, how far it goes, and what its runs say. */
export function FitColumn({ judged: { demand, verdict, sentence, short }, drive, workload, item }: FitColumnProps) {
  const own = drive.supply && traceBehind(drive.supply, verdict.runId, demand.direction);
  const run = drive.profile?.runs.find((one) => one.runId === verdict.runId);
  const missing = drive.supply ? missingParts(drive.supply) : [];
  return (
    <>
      <Box
        sx={{
          display: 'flex',
          gap: 1,
          alignItems: 'center',
          mb: 0.5,
          color: ink(VERDICT_INK[verdict.verdict]),
          fontWeight: 700,
        }}
      >
        <InlineVerdict {...verdict} />
        {verdictName(verdict)}
      </Box>
      <Typography data-sentence="">
        <b>{demand.name}</b> on <b>{drive.card.label}</b>. {sentence}
      </Typography>
      {item && isFootage(item) && <HowFarGoes item={item} drive={drive} />}
      <Heading>What it asks for: {demand.formatText}</Heading>
      <Fact name={short === null ? 'needs' : 'needs about'}>
        {rateText(demand.bytesPerSecond)}, {figureText(formatBitRate(demand.bytesPerSecond))}
      </Fact>
      {short === null && (
        <>
          <Fact name={demand.takes > 1 ? `${demand.takes} takes of` : 'one take of'}>
            {formatDuration(demand.takeSeconds)}, {bytesText(demand.bytesPerSecond * demand.takeSeconds)}
          </Fact>
          <Fact name="buffer">
            {bytesText(demand.bufferBytes)}, {formatDuration(demand.bufferBytes / demand.bytesPerSecond)}
          </Fact>
        </>
      )}
      {verdict.guaranteedBytesPerSecond !== null && (
        <>
          <Heading>
            {run?.isPromise
              ? 'What its box promises'
              : run
                ? `What its run of ${longDay(run.startedAt)} says`
                : 'What its runs say'}
          </Heading>
          <Fact
            name={
              short !== null
                ? 'comes at'
                : verdict.verdict === 'not-proven'
                  ? 'carries at least'
                  : verdict.isPromise
                    ? 'promised rate'
                    : 'guaranteed rate'
            }
          >
            {rateText(verdict.guaranteedBytesPerSecond)}
          </Fact>
          {verdict.leastBufferBytes !== null && (
            <Fact name="needs to buffer">{bytesText(verdict.leastBufferBytes)}</Fact>
          )}
          {short === null && (
            <Fact name={verdict.verdict === 'breaks' ? 'until' : verdict.isPromise ? 'promised' : 'proven'}>
              {formatDuration(verdict.provenSeconds ?? 0)}, {bytesText(verdict.provenBytes ?? 0)}
            </Fact>
          )}
          {run && !run.isPromise && (
            <Fact name="measured when">
              {run.fillShare === null ? 'filling not known' : `${Math.round(run.fillShare * 100)} % full`}
              {run.startCelsius === null ? '' : `, at ${Math.round(run.startCelsius)} °C`}
            </Fact>
          )}
        </>
      )}
      <Doubts title="Doubts about that run">
        {(own?.doubts ?? []).map(({ evidence, advice }) => `${evidence} ${advice}`)}
      </Doubts>
      <Doubts title="Not known of this drive">{missing}</Doubts>
      <PutIntoReport
        subject={`${workload.id} ${drive.card.id}`}
        put={() => ({
          kind: 'question',
          question: questionText(workload, drive.card.label),
          workloadId: workload.id,
          driveId: drive.card.id,
          headroomShare: useContextStore.getState().headroomShare,
          roomBytes: drive.roomBytes,
        })}
      />
      {drive.profile && (
        <Button
          variant="text"
          sx={{ mt: 1.5, ml: -0.75, fontSize: 13.5 }}
          onClick={() => saveJson(drive.card.label, 'profile', drive.profile!)}
        >
          Export what is known of this drive
        </Button>
      )}
    </>
  );
}

/** The inverse answers: everything else as it is, how far can this one go. */
function HowFarGoes({ item, drive: { supply, roomBytes } }: { item: FootageItem; drive: FitDrive }) {
  // While the headroom is dragged the answers follow when there is time.
  const headroomShare = useDeferredValue(useContextStore((state) => state.headroomShare));
  const far = useMemo(
    () => (supply ? howFar(item, supply, { headroomShare }, roomBytes) : null),
    [item, supply, roomBytes, headroomShare],
  );
  if (!far) return null;
  return (
    <Box data-how-far="">
      <Heading>How far does it go</Heading>
      <Answer name="most streams" limit={far.streams} text={String} />
      <Answer name="highest frame rate" limit={far.frameRate} text={frameRateText} />
      <Answer name="largest raster" limit={far.raster} text={rasterText} />
      <Answer name="longest take" limit={far.takeSeconds} text={formatDuration} />
      <Answer
        name="least buffer"
        limit={far.buffer}
        text={({ bytes, seconds }) =>
          bytes === 0 ? 'none' : item.buffer.unit === 'seconds' ? formatDuration(seconds) : bytesText(bytes)
        }
      />
      <Answer name="highest rate" limit={far.bytesPerSecond} text={(rate) => rateText(rate)} />
    </Box>
  );
}

function Answer<T>({ name, limit, text }: { name: string; limit: Limit<T> | null; text: (value: T) => string }) {
  if (limit === null) return null;
  return (
    <Box sx={{ py: '3px' }} data-answer={name}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 2, fontSize: 13.5 }}>
        <span style={{ color: ink('second') }}>{name}</span>
        <b>{limit.value === null ? 'none holds' : text(limit.value)}</b>
      </Box>
      <Box sx={{ fontSize: 12, lineHeight: 1.3, color: ink('second') }}>{limit.limitedBy}</Box>
    </Box>
  );
}
