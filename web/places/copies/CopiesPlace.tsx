import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Suspense, lazy, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { copySentence, timesEarly } from '#core/5-answers/copies/copy-words.ts';
import { PAYLOAD_FIELDS, USUAL_PAYLOADS, payloadTexts, readPayload } from '#core/5-answers/copies/payload.ts';
import { predictCopy, type CopyPrediction, type Payload } from '#core/5-answers/copies/predict.ts';
import type { FieldTexts } from '#core/1-ground/fields/field.ts';
import { bytesText, formatDuration, formatNumber, rateText } from '#core/1-ground/units/format.ts';
import { PutIntoReport } from '../../frame/PutIntoReport.tsx';
import { NothingMeasured } from '../../frame/NothingMeasured.tsx';
import { useShortcuts } from '../../frame/shortcuts.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { FieldLines } from '../../kit/field-lines.tsx';
import { Fact, Heading, ProblemText } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { useComparedDrives, type DriveSupply } from '../../state/drive-supplies.ts';
import { useLibrary } from '../../state/library.ts';
import { ink } from '../../theme/tokens.ts';
import { FromToTable } from './FromToTable.tsx';
import { measuredCopies, type MeasuredCopy } from './measured-copies.ts';
import { ToldTime } from './ToldTime.tsx';
import { HopTrace } from '../../pictures/pictures.tsx';

const CopySheet = lazy(() => import('./CopySheet.tsx'));
const FolderPayload = lazy(() => import('./FolderPayload.tsx'));
const VerifySheet = lazy(() => import('./VerifySheet.tsx'));

/** Pairs of more drives than this could not be read beside each other. */
const MOST_DRIVES = 6;

/** Copies: what one takes between every two drives, both ways, and which hop holds it back. */
export function Component() {
  const { drives: cards, runs } = useLibrary();
  const [sheet, setSheet] = useState<'copy' | 'folder' | 'verify' | null>(null);
  const { drives: all, problem } = useComparedDrives();
  const drives = useMemo(() => all.slice(0, MOST_DRIVES), [all]);
  const [texts, setTexts] = useState<FieldTexts>(() => payloadTexts(USUAL_PAYLOADS[0]!.payload));
  const { payload: read, errors } = useMemo(() => readPayload(texts), [texts]);
  // While something that is typed is at fault the last that could be read stays.
  const [payload, setPayload] = useState<Payload>(USUAL_PAYLOADS[0]!.payload);
  const [chosen, setChosen] = useState<{ from: string; to: string } | null>(null);
  const change = (part: FieldTexts) => {
    const next = { ...texts, ...part };
    setTexts(next);
    const { payload: now } = readPayload(next);
    if (now) setPayload(now);
  };
  const copies = useMemo(() => predictions(drives, payload), [drives, payload]);

  useShortcuts((key) => {
    if (key === 'p' && chosen) useContextStore.getState().toggleDrive(chosen.to);
  });

  const first = drives[0];
  const selected =
    chosen ??
    surprising(drives, copies, payload) ??
    (first ? { from: first.card.id, to: (drives[1] ?? first).card.id } : null);
  const sheets = (
    <Suspense>
      {sheet === 'copy' && (
        <CopySheet
          fromDriveId={selected?.from}
          toDriveId={selected?.to}
          payload={payload}
          onClose={() => setSheet(null)}
        />
      )}
      {sheet === 'folder' && <FolderPayload onTexts={change} onClose={() => setSheet(null)} />}
      {sheet === 'verify' && <VerifySheet onClose={() => setSheet(null)} />}
    </Suspense>
  );

  if (cards.length === 0) {
    return (
      <>
        <NothingMeasured
          more={
            <>
              <Button variant="outlined" onClick={() => setSheet('copy')}>
                Copy now
              </Button>
              <Button variant="outlined" onClick={() => setSheet('verify')}>
                Verify a hash list
              </Button>
            </>
          }
        >
          What a copy between your drives takes will be here, in both directions, with what its first seconds would
          promise and what holds it back. A copy that is made now, and a folder held against its list, need no measured
          drive.
        </NothingMeasured>
        {sheets}
      </>
    );
  }
  const copy = selected ? copies.get(keyOf(selected.from, selected.to)) : null;
  const measured = selected ? measuredCopies(runs ?? [], selected.from, selected.to) : [];
  const driveOf = (id: string | undefined) => drives.find(({ card }) => card.id === id);
  const label = (id: string) => drives.find(({ card }) => card.id === id)?.card.label ?? '';
  return (
    <>
      <PlaceLayout
        actions={
          <>
            <Button variant="contained" fullWidth onClick={() => setSheet('copy')}>
              Copy now
            </Button>
            <Button variant="text" fullWidth onClick={() => setSheet('verify')} sx={{ mt: 0.5 }}>
              Verify a hash list
            </Button>
          </>
        }
        column={
          <>
            {selected && copy && (
              <CopyFacts from={label(selected.from)} to={label(selected.to)} payload={payload} copy={copy} />
            )}
            {selected && copy === null && (
              <Typography>
                Reading <b>{label(selected.from)}</b> or writing <b>{label(selected.to)}</b> has not been measured:
                Short passes take ten seconds, a Long fill shows what is left behind the fast cache.
              </Typography>
            )}
            <MeasuredLines copies={measured} />
            {measured[0] && <CopyIntoReport runId={measured[0].runId} />}
            <Heading>Usual copies</Heading>
            {USUAL_PAYLOADS.map(({ id, label: name, payload: usual }) => (
              <Button
                key={id}
                variant="text"
                onClick={() => change(payloadTexts(usual))}
                sx={{ fontSize: 13.5, px: 0.5, minWidth: 0, mr: 1 }}
              >
                {name}
              </Button>
            ))}
            <Button variant="text" onClick={() => setSheet('folder')} sx={{ fontSize: 13.5, px: 0.5, minWidth: 0 }}>
              From a folder
            </Button>
            <FieldLines fields={PAYLOAD_FIELDS} texts={texts} errors={errors} onTexts={change} />
            {read === null && (
              <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
                The times are those of what could be read last.
              </Typography>
            )}
            <ToldTime from={driveOf(selected?.from)} to={driveOf(selected?.to)} />
          </>
        }
      >
        <Typography variant="h1" noWrap sx={{ flex: 'none', mb: 1 }}>
          What a copy takes, against what its first seconds told
        </Typography>
        {all.length > MOST_DRIVES && (
          <Typography variant="body2" sx={{ flex: 'none', mb: 0.5, color: ink('second') }}>
            The first {MOST_DRIVES} of {all.length} drives; choose others in the strip above.
          </Typography>
        )}
        {problem && <ProblemText>{problem.detail}</ProblemText>}
        {selected && (
          <FromToTable
            drives={drives.map(({ card, roomBytes }) => ({
              id: card.id,
              label: card.label,
              fits: roomBytes === null ? null : payload.bytes <= roomBytes,
            }))}
            predictionOf={(from, to) => copies.get(keyOf(from, to)) ?? null}
            selected={selected}
            onSelect={(from, to) => setChosen({ from, to })}
          />
        )}
        {copy && selected && (
          <>
            <Typography variant="h2" noWrap sx={{ flex: 'none', mt: 1.5 }}>
              {label(selected.from)} to {label(selected.to)}
            </Typography>
            <HopTrace
              stretches={copy.stretches}
              earlyBytesPerSecond={payload.bytes / Math.max(1e-9, copy.earlySeconds)}
              beside={measured.slice(0, MOST_BESIDE).map((one) => ({
                label: `measured ${dayText(one.startedAt)}`,
                stretches: one.leg.stretches,
              }))}
            />
          </>
        )}
      </PlaceLayout>
      {sheets}
    </>
  );
}

/** Copies that are drawn beside the prediction. */
const MOST_BESIDE = 3;
const MOST_LINES = 6;

const dayText = (iso: string): string => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

/** Copies of this way that were really made, each leading to its run. */
function MeasuredLines({ copies }: { copies: readonly MeasuredCopy[] }) {
  if (copies.length === 0) return null;
  return (
    <>
      <Heading>Really made</Heading>
      {copies.slice(0, MOST_LINES).map(({ runId, startedAt, leg }) => (
        <Fact key={`${runId} ${leg.leg}`} name={dayText(startedAt)}>
          <Link to={`/measure/runs/${runId}`} style={{ color: 'inherit' }} data-measured={runId}>
            {bytesText(leg.copiedBytes)} in {formatDuration(leg.seconds)}
          </Link>
          {leg.earlySeconds !== null && leg.seconds > 1.5 * leg.earlySeconds
            ? `, ${formatNumber(leg.seconds / leg.earlySeconds)} × told`
            : ''}
        </Fact>
      ))}
    </>
  );
}

/** The copy of this way that was made last. */
const CopyIntoReport = ({ runId }: { runId: string }) => (
  <PutIntoReport subject={runId} put={() => ({ kind: 'run', runId })} />
);

const keyOf = (from: string, to: string): string => `${from} ${to}`;

function predictions(drives: readonly DriveSupply[], payload: Payload): Map<string, CopyPrediction | null> {
  return new Map(
    drives.flatMap((from) =>
      drives.map((to) => [
        keyOf(from.card.id, to.card.id),
        from.profile && to.profile ? predictCopy(payload, from.profile, [to.profile]) : null,
      ]),
    ),
  );
}

/** The pair whose first estimate is furthest off, of those that fit: the one to look at first. */
function surprising(
  drives: readonly DriveSupply[],
  copies: ReadonlyMap<string, CopyPrediction | null>,
  { bytes }: Payload,
): { from: string; to: string } | null {
  let found: { from: string; to: string } | null = null;
  let most = 0;
  for (const from of drives) {
    for (const to of drives) {
      const copy =
        from === to || (to.roomBytes ?? Infinity) < bytes ? null : copies.get(keyOf(from.card.id, to.card.id));
      if (!copy || timesEarly(copy) <= most) continue;
      most = timesEarly(copy);
      found = { from: from.card.id, to: to.card.id };
    }
  }
  return found;
}

function CopyFacts({ from, to, payload, copy }: { from: string; to: string; payload: Payload; copy: CopyPrediction }) {
  return (
    <>
      <Typography data-copy-sentence="">{copySentence(from, to, payload, copy)}</Typography>
      <Heading>What it is made of</Heading>
      <Fact name="moving">
        {formatDuration(copy.movingSeconds)}, {rateText(payload.bytes / Math.max(1e-9, copy.movingSeconds))}
      </Fact>
      {copy.flushingSeconds >= 0.05 && (
        <Fact name="until the last bytes are on it">{formatDuration(copy.flushingSeconds)}</Fact>
      )}
      <Fact name={payload.files === 1 ? 'its file' : `${payload.files.toLocaleString('en-US')} files`}>
        {copy.filesKnown ? formatDuration(copy.filesSeconds) : 'not measured on both'}
      </Fact>
      {payload.verifies && (
        <Fact name="reading back">
          {copy.verifyingSeconds > 0 ? formatDuration(copy.verifyingSeconds) : 'not measured'}
        </Fact>
      )}
      <Fact name="as its first seconds promise">{formatDuration(copy.earlySeconds)}</Fact>
    </>
  );
}
