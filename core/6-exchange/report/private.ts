import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { Identity } from '#core/4-runs/run/drive-and-volume.ts';
import { withoutUnneeded, type Report } from '#core/6-exchange/report/report.ts';

/** What stands where something was left out. */
export const LEFT_OUT = '(left out)';

/**
 * A report for others: without paths, names of machines and of volumes, serial numbers, and what people wrote beside runs
 * and workloads. What was measured stays as it was, so that everything can be judged anew; drives stay told apart.
 */
export function forOthers(report: Report): Report {
  const { documents } = report;
  const secrets = secretsOf(documents.runs);
  const clean = <T>(value: T): T => cleaned(value, secrets) as T;
  return {
    ...report,
    documents: {
      runs: documents.runs.map((run) => clean(withoutPeople(run))),
      profiles: documents.profiles.map(clean),
      workloads: documents.workloads.map((one) => clean({ ...one, note: '' })),
      sizings: documents.sizings.map(clean),
    },
  };
}

/** The drive itself, under a name that says nothing: the same in all documents of this machine. */
const strangerOf = ({ kind }: Identity, driveId: string): Identity => ({ kind, value: `left-out-${driveId}` });

function withoutPeople(run: RunDocument): RunDocument {
  const { conditions, volume, drive, copy } = run;
  const stranger = <One extends { id: string; identity: Identity }>(one: One): One => ({
    ...one,
    identity: strangerOf(one.identity, one.id),
  });
  const place = <One extends { id: string; label: string; mountPoint: string }>(one: One): One => ({
    ...one,
    id: LEFT_OUT,
    label: LEFT_OUT,
    mountPoint: one.mountPoint === '' ? '' : LEFT_OUT,
  });
  return {
    ...run,
    note: '',
    tags: [],
    drive: stranger(drive),
    volume: place(volume),
    conditions: { ...conditions, software: { ...conditions.software, host: LEFT_OUT } },
    copy: copy && {
      ...copy,
      ends: copy.ends.map((end) => ({
        ...end,
        drive: stranger(end.drive),
        volume: place(end.volume),
        folder: end.folder === '' ? '' : LEFT_OUT,
      })),
      legs: copy.legs.map((leg) => ({ ...leg, keptFolders: leg.keptFolders.map(() => LEFT_OUT) })),
      notes: copy.notes.map((one) => ({ ...one, path: one.path === '' ? '' : LEFT_OUT })),
    },
  };
}

/** What must not be found in any text: it may have come into a sentence. Longer ones first, for shorter ones are in them. */
function secretsOf(runs: readonly RunDocument[]): string[] {
  const found = runs.flatMap(({ volume, drive, conditions, copy }) => [
    volume.mountPoint,
    drive.identity.value,
    conditions.software.host,
    ...(copy?.ends ?? []).flatMap((end) => [end.folder, end.volume.mountPoint, end.drive.identity.value]),
    ...(copy?.legs ?? []).flatMap(({ keptFolders }) => keptFolders),
    ...(copy?.notes ?? []).map(({ path }) => path),
  ]);
  // Very short ones are in every word, and tell nobody anything.
  return [...new Set(found)]
    .filter((one) => one.length >= 4 && !one.startsWith('left-out-'))
    .sort((a, b) => b.length - a.length);
}

/** Paths of POSIX systems with two names or more, of Windows, and of shares. */
const PATHS = [/(?<![\w.:/])(?:\/[^\s/“”"',;:]+){2,}\/?/g, /\b[A-Za-z]:\\[^\s“”"',;]*/g, /\\\\[^\s“”"',;]+/g];

function cleaned(value: unknown, secrets: readonly string[]): unknown {
  if (typeof value === 'string') return cleanText(value, secrets);
  if (Array.isArray(value)) {
    // Columns of numbers are most of a run, and hold no words.
    return typeof value[0] === 'number' ? value : value.map((one) => cleaned(one, secrets));
  }
  if (typeof value === 'object' && value !== null) {
    return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, cleaned(one, secrets)]));
  }
  return value;
}

function cleanText(text: string, secrets: readonly string[]): string {
  let clean = text;
  for (const secret of secrets) if (clean.includes(secret)) clean = clean.replaceAll(secret, LEFT_OUT);
  for (const path of PATHS) clean = clean.replace(path, LEFT_OUT);
  return clean;
}

/** A report as others get it: without the parts that are left out, and what only they need; private where that was asked for. */
export function asItLeaves(report: Report): Report {
  const shown = withoutUnneeded({ ...report, parts: report.parts.filter(({ isLeftOut }) => !isLeftOut) });
  return shown.isPrivate ? forOthers(shown) : shown;
}
