import type { Direction } from '#core/1-ground/curves/direction.ts';
import { bindingHop, type Hop } from '#core/2-trade/links/connection.ts';
import { enclosureCount, kindsOf, stackSize, standsAlone, type Build } from '#core/5-answers/sizing/builds.ts';
import { dayText } from '#core/5-answers/sizing/calendar.ts';
import { copiedDay, timeToMove, type CopyTime } from '#core/5-answers/sizing/copy-time.ts';
import { copiedWords, readsTogether, type ReadForCopies } from '#core/5-answers/sizing/copied-day.ts';
import { attached, layoutById, rebuildSeconds, unreadableChance, type Layout } from '#core/5-answers/sizing/layouts.ts';
import { fullOnDay } from '#core/5-answers/sizing/material.ts';
import type { Sizing, SizingPolicy } from '#core/5-answers/sizing/project.ts';
import { leastOf, type SearchBasis } from '#core/5-answers/sizing/search-basis.ts';
import { judgeBuild, loudnessOf, yearsOf, type Constraint } from '#core/5-answers/sizing/judge-build.ts';
import { furthestReaching, soundOf } from '#core/4-runs/supply/evidence.ts';
import type { Supply } from '#core/4-runs/supply/profile.ts';
import type { StoreId } from '#core/5-answers/sizing/stores.ts';
import { moneyText } from '#core/1-ground/units/money.ts';
import { bytesText, formatDuration, formatNumber, formatShare, rateText } from '#core/1-ground/units/format.ts';
import { verdictSentence } from '#core/5-answers/verdict/sentences.ts';
import type { VerdictWord } from '#core/5-answers/verdict/verdict.ts';

/** Everything that is said of one build. Rates in bytes per second. */
export interface ExplainedBuild {
  name: string;
  /** The two halves of its name: its drives and their layout, and what is around them. */
  drivesText: string;
  aroundText: string;
  cost: number;
  usableBytes: number;
  margin: number;
  constraint: Constraint | null;
  /** Drives that may fail whichever they are. */
  mayFail: number;
  /** What its drives hold for ever together, and with one of them gone. */
  writeBytesPerSecond: number | null;
  readBytesPerSecond: number | null;
  degradedBytesPerSecond: number | null;
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
  /** What a day’s copies take here; null where nothing is copied there. */
  copies: CopyTime | null;
  /** What reading a day’s copies for other stores takes here; seconds null where that is not known. */
  readsForCopies: ReadForCopies[];
  /** On each demand of the workload, the worst first. */
  verdicts: { name: string; verdict: VerdictWord; sentence: string }[];
  sentences: string[];
}

const plural = (count: number, one: string): string => `${count} ${one}${count === 1 ? '' : 's'}`;

/** “6 × Anchor 16T, double parity, 1 spare”. */
function drivesText({ drives }: Sizing, build: Build): string {
  return [
    kindsOf(drives, build)
      .map(({ drive, count }) => `${count} × ${drive.label}`)
      .join(' + '),
    ...(stackSize(build) === 1 ? [] : [layoutById(build.layout).label]),
    ...(build.spares > 0 ? [plural(build.spares, 'spare')] : []),
  ].join(', ');
}

/** “desk box, 10 Gb/s card”, “2 × shelf, 10 Gb/s card”. */
function aroundText(sizing: Sizing, build: Build): string {
  const count = enclosureCount(sizing, build);
  const { label } = sizing.enclosures[build.enclosure]!;
  const enclosure = count === 0 ? '' : `${count > 1 ? `${count} × ` : ''}${label}, `;
  return enclosure + sizing.connections[build.connection]!.label;
}

/** “6 × Anchor 16T, double parity, 1 spare, desk box, 10 Gb/s card”. */
export const buildName = (sizing: Sizing, build: Build): string =>
  `${drivesText(sizing, build)}, ${aroundText(sizing, build)}`;

export const CONSTRAINT_WORDS: Record<Constraint, string> = {
  redundancy: 'may not lose as many drives as asked',
  'redundancy-unknown': 'is not known to survive what is asked: a share does not tell it',
  slots: 'needs more slots than its enclosures have',
  budget: 'costs more than the budget',
  capacity: 'is full before the project ends',
  loudness: 'is louder than allowed',
  'loudness-unknown': 'is not known to be quiet enough: its card does not say how loud a drive is',
  endurance: 'is worn out too soon',
  'endurance-unknown': 'is not known to last so long: its card does not say what a drive may be written',
  writing: 'does not hold what is recorded',
  reading: 'does not hold what is played',
  degraded: 'does not hold with a drive gone',
};

/** Of rates, where only what is proven counts: what does not hold and what is not known to are ruled out alike. */
const UNPROVEN_WORDS: Partial<Record<Constraint, string>> = {
  writing: 'is not proven to hold what is recorded',
  reading: 'is not proven to hold what is played',
  degraded: 'is not proven to hold with a drive gone',
};

/** What rules a build out, in words; on a store of copies nothing is recorded. */
export function constraintWords(
  constraint: Constraint,
  { store }: Pick<SearchBasis, 'store'>,
  { needsProof }: Pick<SizingPolicy, 'needsProof'>,
): string {
  if (constraint === 'writing' && store !== 'working')
    return needsProof ? 'is not proven to copy a day in its time' : 'does not copy a day in its time';
  return (needsProof ? UNPROVEN_WORDS[constraint] : undefined) ?? CONSTRAINT_WORDS[constraint];
}

const WORSE: readonly VerdictWord[] = ['breaks', 'not-proven', 'tight', 'holds'];

/** The lowest floor that was seen one way, of drives together. */
export function floorOf({ traces }: Supply, direction: Direction): number | null {
  const floors = soundOf(traces.filter((one) => one.direction === direction)).map(
    (one) => one.span.floorBytesPerSecond,
  );
  return floors.length === 0 ? null : Math.min(...floors);
}

/** Median rate of the slowest of some drives, in reading where that is known; null where one is not known at all. */
function slowestMedianOf(supplies: readonly Supply[]): number | null {
  const medians = supplies.map(({ traces }) => {
    const way = (direction: Direction) => furthestReaching(traces.filter((one) => one.direction === direction));
    return (way('read') ?? way('write'))?.medianBytesPerSecond ?? null;
  });
  return medians.every((one) => one !== null) ? Math.min(...medians) : null;
}

/** What a build is and does, in figures and sentences. */
export function explainBuild(basis: SearchBasis, build: Build): ExplainedBuild {
  const { sizing, timeline } = basis;
  const { policy } = sizing;
  const layout = layoutById(build.layout);
  const drives = stackSize(build);
  const { judged, constraint } = judgeBuild(basis, build);
  const hop = bindingHop({ hops: sizing.connections[build.connection]!.hops });
  const ceiling = hop?.ceilingBytesPerSecond ?? Infinity;
  const whole = basis.composed(build);
  const degradedShare = layout.degradedShare(drives);
  const degraded = degradedShare > 0 ? floorOf(basis.composed(build, degradedShare), 'write') : null;
  const [writing, reading] = [floorOf(whole, 'write'), floorOf(whole, 'read')];
  const held = basis.verdicts(build).map(({ demand, verdict }) => ({
    name: demand.name,
    verdict: verdict.verdict,
    sentence: verdictSentence(demand, verdict),
  }));
  held.sort((a, b) => WORSE.indexOf(a.verdict) - WORSE.indexOf(b.verdict));
  const toRead = layout.readToRebuild(drives);
  const driveBytes = leastOf(sizing, build, ({ capacityBytes }) => capacityBytes)!;
  const dataDrives = attached(layout, layout.data(drives));
  const perDrive = slowestMedianOf(basis.members(build).map(({ supply }) => supply));
  const explained: Omit<ExplainedBuild, 'sentences'> = {
    name: buildName(sizing, build),
    drivesText: drivesText(sizing, build),
    aroundText: aroundText(sizing, build),
    cost: judged.cost,
    usableBytes: judged.usableBytes,
    margin: judged.margin,
    constraint,
    mayFail: layout.survives(drives),
    writeBytesPerSecond: writing,
    readBytesPerSecond: reading,
    degradedBytesPerSecond: degraded,
    manyStreamsBytesPerSecond:
      reading === null ? null : Math.min(ceiling, (reading / dataDrives) * layout.readsMany(drives)),
    smallWriteCost: layout.smallWriteCost(drives),
    bindingHop: bindingLabel(basis, build, whole, hop),
    fullOnDay: fullOnDay(timeline, judged.usableBytes),
    enduranceYears: yearsOf(basis, build, layout),
    rebuildSeconds:
      layout.survives(drives) === 0 || perDrive === null
        ? null
        : rebuildSeconds(driveBytes, perDrive, policy.rebuildShare, ceiling),
    unreadableChance: toRead === null ? null : unreadableChance(toRead * driveBytes, policy.errorsPerBit),
    decibels: loudnessOf(sizing, build, layout, build.spares),
    copies: basis.copies(build),
    readsForCopies: basis.copiedFrom.map((day) => ({
      ...day,
      seconds: timeToMove(whole, 'read', day.bytes)?.seconds ?? null,
    })),
    verdicts: held,
  };
  return { ...explained, sentences: sentencesOf(basis, explained, layout, standsAlone(sizing, build)) };
}

/** The hop at whose ceiling the drives write; the slots count as one. */
function bindingLabel({ sizing }: SearchBasis, build: Build, whole: Supply, hop: Hop | null): string | null {
  const writing = floorOf(whole, 'write');
  if (writing === null) return null;
  if (hop && writing >= hop.ceilingBytesPerSecond) return hop.label;
  const { slot } = sizing.enclosures[build.enclosure]!;
  const layout = layoutById(build.layout);
  const slots =
    slot && slot.ceilingBytesPerSecond * attached(layout, layout.data(stackSize(build))) * sizing.policy.efficiency;
  return slots !== null && writing >= 0.999 * slots ? `${slot!.label} of a slot` : null;
}

/** What the plan takes for granted in these figures. */
function takenText({ growthShare, fillLimit, filesystemShare, headroomShare }: SizingPolicy, store: StoreId): string {
  const taken = [
    ...(growthShare > 0 ? [`${formatShare(growthShare)} growth`] : []),
    `filled to ${formatShare(fillLimit)}`,
    ...(filesystemShare > 0 ? [`${formatShare(filesystemShare)} for the filesystem`] : []),
    `${formatShare(headroomShare)} headroom on ${store === 'working' ? 'rates' : 'the time for copies'}`,
  ];
  return `Reckoned with ${taken.slice(0, -1).join(', ')} and ${taken.at(-1)!}.`;
}

/** What the fullest day leaves, as a share of the room there is. */
const roomLeftText = (usable: number, peak: number, amount: (bytes: number) => string): string =>
  `${amount(usable - peak)} of its ${amount(usable)} are left, ${formatShare(1 - peak / usable)} of the room.`;

function sentencesOf(
  basis: SearchBasis,
  build: Omit<ExplainedBuild, 'sentences'>,
  { id, isTogether }: Layout,
  isAlone: boolean,
): string[] {
  const { sizing, timeline } = basis;
  const { currency, units, startsOn, policy } = sizing;
  const sentences: string[] = [];
  const money = (amount: number) => moneyText(amount, currency);
  const amount = (bytes: number) => bytesText(bytes, 'picture', units);
  const otherUnits = bytesText(build.usableBytes, 'picture', units === 'binary' ? 'decimal' : 'binary');
  sentences.push(
    `${amount(build.usableBytes)} usable (${otherUnits}) for ${money(build.cost)}, ${money(Math.round(build.cost / (build.usableBytes / 1e12)))} a TB.`,
  );
  sentences.push(
    build.fullOnDay === null
      ? `The fullest day is ${dayText(timeline.peakDay, startsOn)} with ${amount(timeline.peakBytes)}: ${roomLeftText(build.usableBytes, timeline.peakBytes, amount)}`
      : `Full on ${dayText(build.fullOnDay, startsOn)} of ${sizing.days}; the fullest day needs ${amount(timeline.peakBytes)}.`,
  );
  if (build.writeBytesPerSecond !== null) {
    const over = build.bindingHop === null ? '' : `, held there by ${build.bindingHop}`;
    const gone =
      build.degradedBytesPerSecond === null ? '' : `; with a drive gone ${rateText(build.degradedBytesPerSecond)}`;
    sentences.push(`Sustained writing is ${rateText(build.writeBytesPerSecond)}${over}${gone}.`);
  }
  for (const { stores, bytes, seconds } of readsTogether(build.readsForCopies)) {
    sentences.push(`The fullest day’s ${amount(bytes)} for ${stores} are read here in ${formatDuration(seconds)}.`);
  }
  if (build.copies !== null) {
    sentences.push(
      `The fullest day’s ${amount(build.copies.bytes)} are ${copiedWords(policy)} in ${formatDuration(copiedDay(build.copies, null).seconds)} of the ${formatDuration(policy.copySeconds)} allowed.`,
    );
  } else if (basis.store !== 'working') {
    sentences.push(
      'How long a day’s copies take is not known: for one way or the other its drives have neither a run nor a rate on their card.',
    );
  }
  if (build.manyStreamsBytesPerSecond !== null && build.smallWriteCost > 1) {
    sentences.push(
      `Many streams at once are read at up to ${rateText(build.manyStreamsBytesPerSecond)}; a small write costs ${build.smallWriteCost} accesses.`,
    );
  }
  const [worst] = build.verdicts;
  if (worst) sentences.push(`${worst.name}: ${worst.sentence}`);
  sentences.push(
    id === 'separate'
      ? 'One drive is filled after the other, and only that one has to be attached. What is on a drive that fails is gone, the rest is not.'
      : isAlone
        ? 'What it survives is its own affair, and not known here.'
        : build.mayFail === 0
          ? 'It survives no failed drive.'
          : `It survives ${build.mayFail === 1 ? 'one failed drive' : `any ${build.mayFail} failed drives`}.`,
  );
  if (build.rebuildSeconds !== null && build.unreadableChance !== null) {
    sentences.push(
      `A rebuild takes ${formatDuration(build.rebuildSeconds)} or more; the chance to meet an unreadable sector on the way, when nothing more may fail, is at most ${formatShare(build.unreadableChance)}, and one bad sector is not a lost array.`,
    );
  }
  if (build.enduranceYears !== null && Number.isFinite(build.enduranceYears)) {
    sentences.push(`At this pace its drives are written through in ${formatNumber(build.enduranceYears)} years.`);
  }
  if (build.decibels !== null)
    sentences.push(`${formatNumber(build.decibels)} dB(A) under load${isTogether ? ', all drives together' : ''}.`);
  sentences.push(takenText(policy, basis.store));
  if (build.constraint !== null) sentences.push(`Ruled out: it ${constraintWords(build.constraint, basis, policy)}.`);
  return sentences;
}
