import { bindingHop } from '#core/links/connection.ts';
import { judgeComposed, ratedDemands, supplyOfDrive } from '#core/sizing/composed.ts';
import { enduranceYears, layoutById, rebuildSeconds, unreadableChance } from '#core/sizing/layouts.ts';
import { fullOnDay } from '#core/sizing/material.ts';
import {
  costAndRoom,
  loudnessOf,
  ruledOutBy,
  type Build,
  type Constraint,
  type SearchBench,
} from '#core/sizing/search.ts';
import { bytesText, formatDuration, formatNumber, formatShare, rateText } from '#core/units/format.ts';
import { verdictSentence } from '#core/verdict/sentences.ts';
import type { VerdictWord } from '#core/verdict/verdict.ts';

/** Everything that is said of one build. Rates in bytes per second. */
export interface ExplainedBuild {
  name: string;
  cost: number;
  usableBytes: number;
  margin: number;
  constraint: Constraint | null;
  /** What its drives hold for ever together, and what is left with one of them gone. */
  writeBytesPerSecond: number | null;
  readBytesPerSecond: number | null;
  degradedShare: number;
  /** At most, where many streams are read at once. */
  manyStreamsBytesPerSecond: number | null;
  /** Accesses that one small write costs. */
  smallWriteCost: number;
  /** Label of the hop that binds; null where the drives do. */
  bindingHop: string | null;
  fullOnDay: number | null;
  enduranceYears: number | null;
  rebuildSeconds: number | null;
  unreadableChance: number | null;
  decibels: number | null;
  /** On each demand of the workload, the worst first. */
  verdicts: { name: string; verdict: VerdictWord; sentence: string }[];
  sentences: string[];
}

const plural = (count: number, one: string): string => `${count} ${one}${count === 1 ? '' : 's'}`;

/** “6 × Anchor 16T, double parity, 1 spare, in the desk box, over 10 Gb/s”. */
export function buildName(
  { sizing: { drives, enclosures, connections } }: Pick<SearchBench, 'sizing'>,
  build: Build,
): string {
  return [
    `${build.count} × ${drives[build.drive]!.label}`,
    ...(build.count === 1 ? [] : [layoutById(build.layout).label]),
    ...(build.spares > 0 ? [plural(build.spares, 'spare')] : []),
    enclosures[build.enclosure]!.label,
    connections[build.connection]!.label,
  ].join(', ');
}

export const CONSTRAINT_WORDS: Record<Constraint, string> = {
  redundancy: 'may not lose as many drives as asked',
  slots: 'needs more slots than its enclosure has',
  budget: 'costs more than the budget',
  capacity: 'is full before the project ends',
  loudness: 'is louder than allowed',
  endurance: 'is worn out too soon',
  writing: 'does not hold what is recorded',
  reading: 'does not hold what is played',
  degraded: 'does not hold with a drive gone',
};

const WORSE: readonly VerdictWord[] = ['breaks', 'not-proven', 'tight', 'holds'];

/** What a build is and does, in figures and sentences. */
export function explainBuild(bench: SearchBench, build: Build): ExplainedBuild {
  const { sizing, timeline } = bench;
  const { policy } = sizing;
  const drive = sizing.drives[build.drive]!;
  const layout = layoutById(build.layout);
  const judged = costAndRoom(bench, build);
  const supply = supplyOfDrive(drive);
  const hop = bindingHop({ hops: sizing.connections[build.connection]!.hops });
  const ceiling = hop?.ceilingBytesPerSecond ?? Infinity;
  const data = layout.data(build.count);
  /** What so many drives do for ever. */
  const rateOf = (direction: 'write' | 'read', drives: number): number | null => {
    const floors = supply.traces
      .filter((one) => one.direction === direction)
      .map((one) => one.span.floorBytesPerSecond);
    return floors.length === 0 ? null : Math.min(ceiling, Math.min(...floors) * drives * policy.efficiency);
  };
  const [writing, reading] = [rateOf('write', data), rateOf('read', data)];
  const held = judgeComposed(
    supply,
    ratedDemands(sizing.workload),
    { write: data, read: data },
    policy.efficiency,
    ceiling,
    policy.headroomShare,
  ).map(({ demand, verdict }) => ({
    name: demand.name,
    verdict: verdict.verdict,
    sentence: verdictSentence(demand, verdict),
  }));
  held.sort((a, b) => WORSE.indexOf(a.verdict) - WORSE.indexOf(b.verdict));
  const written = timeline.writtenBytesPerDay * (build.count / data);
  const years = enduranceYears(written, build.count, policy.amplification, drive.enduranceBytes);
  const mean = reading ?? writing;
  const read = layout.readToRebuild(build.count);
  const rebuild =
    layout.survives === 0 || mean === null
      ? null
      : rebuildSeconds(drive.capacityBytes, mean / Math.max(1, data * policy.efficiency), policy.rebuildShare, ceiling);
  const chance = read === null ? null : unreadableChance(read * drive.capacityBytes, policy.errorsPerBit);
  const full = fullOnDay(timeline, judged.usableBytes);
  const together = build.count + build.spares;
  const explained: ExplainedBuild = {
    name: buildName(bench, build),
    cost: judged.cost,
    usableBytes: judged.usableBytes,
    margin: judged.margin,
    constraint: ruledOutBy(bench, build, judged),
    writeBytesPerSecond: writing,
    readBytesPerSecond: reading,
    degradedShare: layout.degradedShare(build.count),
    manyStreamsBytesPerSecond: rateOf('read', layout.readsMany(build.count)),
    smallWriteCost: layout.smallWriteCost(build.count),
    bindingHop: writing !== null && writing >= ceiling && hop ? hop.label : null,
    fullOnDay: full,
    enduranceYears: years,
    rebuildSeconds: rebuild,
    unreadableChance: chance,
    decibels: drive.loudnessDecibels === null ? null : loudnessOf(drive.loudnessDecibels, together),
    verdicts: held,
    sentences: [],
  };
  return { ...explained, sentences: sentencesOf(bench, explained, layout.survives) };
}

function sentencesOf({ sizing, timeline }: SearchBench, build: ExplainedBuild, survives: number): string[] {
  const { currency } = sizing;
  const sentences: string[] = [];
  const money = (amount: number) => `${formatNumber(amount, 'full')} ${currency}`.trim();
  sentences.push(
    `${bytesText(build.usableBytes)} usable for ${money(build.cost)}, ${money(Math.round(build.cost / (build.usableBytes / 1e12)))} a TB.`,
  );
  sentences.push(
    build.fullOnDay === null
      ? `The fullest day is day ${timeline.peakDay} with ${bytesText(timeline.peakBytes)}: ${formatShare(build.usableBytes / timeline.peakBytes - 1)} of room is left.`
      : `Full on day ${build.fullOnDay} of ${sizing.days}; the fullest day needs ${bytesText(timeline.peakBytes)}.`,
  );
  if (build.writeBytesPerSecond !== null) {
    const over = build.bindingHop === null ? '' : `, held there by ${build.bindingHop}`;
    const gone = survives > 0 ? `; with a drive gone ${rateText(build.writeBytesPerSecond * build.degradedShare)}` : '';
    sentences.push(`Writes on at ${rateText(build.writeBytesPerSecond)}${over}${gone}.`);
  }
  if (build.manyStreamsBytesPerSecond !== null && build.smallWriteCost > 1) {
    sentences.push(
      `Many streams at once are read at up to ${rateText(build.manyStreamsBytesPerSecond)}; a small write costs ${build.smallWriteCost} accesses.`,
    );
  }
  const [worst] = build.verdicts;
  if (worst) sentences.push(`${worst.name}: ${worst.sentence}`);
  sentences.push(
    survives === 0 ? 'No drive may fail.' : `${survives === 1 ? 'One drive' : 'Any two drives'} may fail.`,
  );
  if (build.rebuildSeconds !== null && build.unreadableChance !== null) {
    sentences.push(
      `A rebuild takes ${formatDuration(build.rebuildSeconds)} or more; the chance to meet an unreadable sector on the way, when nothing more may fail, is at most ${formatShare(build.unreadableChance)}, and one bad sector is not a lost array.`,
    );
  }
  if (build.enduranceYears !== null && Number.isFinite(build.enduranceYears)) {
    sentences.push(`At this pace its drives are written through in ${formatNumber(build.enduranceYears)} years.`);
  }
  if (build.decibels !== null) sentences.push(`${formatNumber(build.decibels)} dB(A) under load, all drives together.`);
  if (build.constraint !== null) sentences.push(`Ruled out: it ${CONSTRAINT_WORDS[build.constraint]}.`);
  return sentences;
}

/** Builds as a table for a spreadsheet: one a line, in the order given. */
export function buildsCsv(bench: SearchBench, builds: readonly Build[]): string {
  const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`;
  const lines = builds.map((build) => {
    const {
      name,
      cost,
      usableBytes,
      margin,
      constraint,
      writeBytesPerSecond,
      fullOnDay: day,
    } = explainBuild(bench, build);
    return [
      quoted(name),
      cost,
      usableBytes,
      margin.toFixed(4),
      writeBytesPerSecond ?? '',
      day ?? '',
      constraint ?? '',
    ].join(',');
  });
  return (
    ['build,cost,usable_bytes,margin,writes_bytes_per_second,full_on_day,ruled_out_by', ...lines].join('\n') + '\n'
  );
}
