import { EARLY_SECONDS, type CopyStretch } from '#core/4-runs/trace/copy-stretches.ts';
import type { CopyColumns, CopyLeg, CopyRecord } from '#core/4-runs/run/copy-record.ts';
import { greatest, least, median } from '#core/1-ground/numbers/statistics.ts';

/** How long an end waited for the others, as a share of the copying. */
export interface EndWait {
  end: number;
  share: number;
}

/** What one copy of a run shows. Rates in bytes per second. */
export interface CopiedLeg {
  leg: number;
  from: number;
  to: readonly number[];
  /** As it was kept; null while it goes on, and where it was cut off. */
  outcome: CopyLeg | null;
  /** Bytes that have arrived at every target. */
  copiedBytes: number;
  /** Seconds so far, flushing included. */
  seconds: number;
  bytesPerSecond: number;
  /** What its first seconds promised for all of it; null until it is known how much that is. */
  earlySeconds: number | null;
  /** The source first, then the targets. */
  waits: EndWait[];
  /** Its rate as it went along, with the side that the other waited for. */
  stretches: CopyStretch[];
}

/** Several copies the same way: whether they were alike, and whether they became slower. */
export interface CopySpread {
  times: number;
  medianSeconds: number;
  lowestSeconds: number;
  highestSeconds: number;
  /** Change from the first to the last by a straight line through all, as a share of the median; positive is slower. */
  trendShare: number;
}

export interface CopyFigures {
  legs: CopiedLeg[];
  /** Of the copies from the source; null for fewer than three. */
  spread: CopySpread | null;
}

/** Stretches that a copy is drawn in: as many as can be told apart. */
const MOST_STRETCHES = 200;
/** Fewer are no spread. */
const LEAST_REPEATS = 3;

/** What the copies of a run come to. */
export function copyFiguresOf({ legs, rows }: Pick<CopyRecord, 'legs' | 'rows'>): CopyFigures {
  const numbers = [...new Set([...rows.leg, ...legs.map(({ leg }) => leg)])].sort((a, b) => a - b);
  const copied = numbers.map((number) => copiedLeg(number, legs.find(({ leg }) => leg === number) ?? null, rows));
  return { legs: copied, spread: spreadOf(copied) };
}

/** Moments at which all ends were looked at, with what had arrived at every target. */
interface Moment {
  seconds: number;
  bytes: number;
  /** Seconds waited so far by the source, and by the targets in the mean. */
  sourceWaited: number;
  targetsWaited: number;
}

function copiedLeg(leg: number, outcome: CopyLeg | null, rows: CopyColumns): CopiedLeg {
  const moments: Moment[] = [];
  const waited = new Map<number, number>();
  let from: number | null = outcome?.from ?? null;
  const targets = new Set<number>(outcome?.to);
  let at: { seconds: number; ends: { end: number; bytes: number; waited: number }[] } | null = null;
  const close = () => {
    if (!at || at.ends.length < 2) return;
    // The source comes first in every look; the others are where it goes.
    const [source, ...others] = at.ends as [(typeof at.ends)[number], ...typeof at.ends];
    from ??= source.end;
    others.forEach(({ end }) => targets.add(end));
    at.ends.forEach((one) => waited.set(one.end, one.waited));
    moments.push({
      seconds: at.seconds,
      bytes: least(others.map(({ bytes }) => bytes)),
      sourceWaited: source.waited,
      targetsWaited: others.reduce((sum, one) => sum + one.waited, 0) / others.length,
    });
  };
  rows.atSeconds.forEach((seconds, row) => {
    if (rows.leg[row] !== leg || rows.stage[row] !== 'copying') return;
    if (at?.seconds !== seconds) {
      close();
      at = { seconds, ends: [] };
    }
    at.ends.push({ end: rows.end[row]!, bytes: rows.bytes[row]!, waited: rows.waitedSeconds[row]! });
  });
  close();
  const first = moments[0];
  const last = moments.at(-1);
  const copySeconds = outcome?.copySeconds ?? (first && last ? last.seconds - first.seconds : 0);
  const seconds = copySeconds + (outcome?.flushSeconds ?? 0);
  const copiedBytes = outcome?.wholeBytes ?? last?.bytes ?? 0;
  return {
    leg,
    from: from ?? 0,
    to: [...targets].sort((a, b) => a - b),
    outcome,
    copiedBytes,
    seconds,
    bytesPerSecond: seconds > 0 ? copiedBytes / seconds : 0,
    earlySeconds: outcome && earlyOf(moments, outcome.bytes),
    waits: [...waited].map(([end, waitedSeconds]) => ({
      end,
      share: copySeconds > 0 ? Math.min(1, waitedSeconds / copySeconds) : 0,
    })),
    stretches: stretchesOf(moments),
  };
}

/** What the first seconds promised for so many bytes; null where nothing had arrived by then. */
function earlyOf(moments: readonly Moment[], bytes: number): number | null {
  // A drive that has to spin up first promises nothing until it does.
  const first = moments[Math.max(0, moments.findIndex(({ bytes: moved }) => moved > 0) - 1)];
  if (!first) return null;
  const after = moments.findIndex(({ seconds }) => seconds - first.seconds >= EARLY_SECONDS);
  const at = moments[after < 0 ? moments.length - 1 : after]!;
  const seconds = at.seconds - first.seconds;
  return at.bytes > 0 && seconds > 0 ? (bytes * seconds) / at.bytes : null;
}

function stretchesOf(moments: readonly Moment[]): CopyStretch[] {
  const stretches: CopyStretch[] = [];
  const end = moments.at(-1)?.bytes ?? 0;
  let last = moments[0];
  for (const now of moments.slice(1)) {
    if (!last) break;
    if (now.bytes - last.bytes < end / MOST_STRETCHES && now !== moments.at(-1)) continue;
    const took = now.seconds - last.seconds;
    if (took <= 0 || now.bytes <= last.bytes) continue;
    const sourceWaits = now.sourceWaited - last.sourceWaited;
    const targetsWait = now.targetsWaited - last.targetsWaited;
    stretches.push({
      fromBytes: last.bytes,
      toBytes: now.bytes,
      bytesPerSecond: (now.bytes - last.bytes) / took,
      // Whoever waits is held back by the other.
      binds: sourceWaits >= targetsWait ? { kind: 'target', label: null } : { kind: 'source' },
    });
    last = now;
  }
  return stretches;
}

function spreadOf(legs: readonly CopiedLeg[]): CopySpread | null {
  const whole = legs.filter(({ from, outcome }) => from === 0 && outcome !== null);
  if (whole.length < LEAST_REPEATS) return null;
  const times = whole.map(({ seconds }) => seconds);
  const middle = median(times);
  const centre = (times.length - 1) / 2;
  const mean = times.reduce((sum, one) => sum + one, 0) / times.length;
  const slope =
    times.reduce((sum, one, index) => sum + (index - centre) * (one - mean), 0) /
    times.reduce((sum, _, index) => sum + (index - centre) ** 2, 0);
  return {
    times: times.length,
    medianSeconds: middle,
    lowestSeconds: least(times),
    highestSeconds: greatest(times),
    trendShare: middle > 0 ? (slope * (times.length - 1)) / middle : 0,
  };
}
