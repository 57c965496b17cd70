import { array, boolean, number, object, string, type InferType } from 'yup';
import { bindingHop, bothWaysCeiling, connectionSchema, type Connection } from '#core/2-trade/links/connection.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import { recipeIdSchema } from '#core/3-jobs/recipes/registry.ts';
import { MEDIA, type Medium } from '#core/2-trade/drives/medium.ts';
import { type RunDocument } from '#core/4-runs/run/run-document.ts';
import { DOUBT_EFFECTS, type Doubt } from '#core/4-runs/supply/doubts/doubt.ts';
import { areAlongside, numberColumn } from '#core/1-ground/schema/columns.ts';
import type { RequestSupply } from '#core/4-runs/supply/request-rate.ts';
import { fileSecondsOf, requestRungSchema, requestRungsOf } from '#core/4-runs/supply/request-profile.ts';
import { withoutKinds } from '#core/4-runs/trace/supply-curve.ts';
import { evidenceOfRun, type Evidence } from '#core/4-runs/supply/evidence.ts';
import { pacedProofOf, pacedProofSchema, type PacedProof } from '#core/4-runs/supply/paced-proof.ts';
import type { RecoveryPoint } from '#core/4-runs/trace/recovery.ts';
import { summaryOf, type RunSummary } from '#core/4-runs/supply/run-summary.ts';

/**
 * What is known of a drive on one connection, drawn from its runs: what each may prove, when and
 * in which state of the drive it was measured. The JSON Schema is docs/formats/profile.schema.json.
 */
export const PROFILE_VERSION = 'profile/1';

const direction = () => string().oneOf(DIRECTIONS).required();
const rate = () => number().min(0).required();

const doubtSchema = object({
  code: string<Doubt['code']>().required().max(40),
  effect: string().oneOf(DOUBT_EFFECTS).required(),
  direction: string().oneOf(DIRECTIONS).nullable().defined(),
  evidence: string().required().max(1000),
  advice: string().required().max(1000),
  atSeconds: number().nullable().defined(),
});

const curveSchema = object({
  /** In documents of earlier versions: which points are of the trace. */
  kinds: numberColumn().notRequired().meta({ addedLater: true }),
  seconds: numberColumn(),
  bytes: numberColumn(),
  continuation: object({
    fromCorner: number().integer().min(0).required(),
    toCorner: number().integer().min(0).required(),
    slower: numberColumn(),
  })
    .nullable()
    .defined()
    .default(undefined),
}).test('curve', 'a curve needs as many seconds as bytes, and at least one', (curve: { kinds?: unknown } | null) =>
  areAlongside(curve, ['seconds', 'bytes', ...(Array.isArray(curve?.kinds) ? ['kinds'] : [])]),
);

const lostSchema = object({ windowSeconds: numberColumn(), lostSeconds: numberColumn() }).test(
  'lost',
  'lost time needs as many windows as seconds lost, and at least one',
  (lost: object | null) => areAlongside(lost, ['windowSeconds', 'lostSeconds']),
);

const partedSchema = object({
  levels: object({ toBytes: numberColumn(), bytesPerSecond: numberColumn() }).required(),
  lost: lostSchema.required(),
  swingFromBytes: number().min(0).nullable().defined().default(undefined),
  before: object({ bytes: rate(), lost: lostSchema.required() }).nullable().defined().default(undefined),
  withoutBursts: lostSchema.nullable().defined().default(undefined),
  behind: array(
    object({
      ceilingBytesPerSecond: rate(),
      lost: lostSchema.required(),
      untilNext: lostSchema.required(),
      before: lostSchema.nullable().defined().default(undefined),
    }).required(),
  ).required(),
  fastestBytesPerSecond: rate(),
});

/** What was typed of a drive and not measured; left out of what was measured. */
const isPromiseSchema = () => boolean().optional().default(undefined).meta({ addedLater: true });

const evidenceSchema = object({
  runId: string().required().max(80),
  direction: direction(),
  medium: string().oneOf(MEDIA).required(),
  curves: array(curveSchema.required()).min(1).max(4000).required(),
  parted: array(partedSchema.required()).max(4000).nullable().default(null).meta({ addedLater: true }),
  provenBytes: rate(),
  continuedBytes: number().min(0).nullable().defined(),
  levelEnds: numberColumn(),
  kneeBytes: number().min(0).nullable().defined(),
  swingsFrom: object({ bytes: rate(), seconds: rate() }).nullable().defined().default(undefined),
  recovery: array(
    object({ restSeconds: rate(), regainedBytes: rate(), atLeast: boolean().required() }).required(),
  ).required(),
  mayProveHolds: boolean().required(),
  mayProveBreaks: boolean().required(),
  isPromise: isPromiseSchema(),
  doubts: array(doubtSchema.required()).required(),
  medianBytesPerSecond: rate(),
  span: object({
    worstSecondBytesPerSecond: rate(),
    floorBytesPerSecond: rate(),
    openingBytesPerSecond: rate(),
  }).required(),
});

/** Rate of requests in no order, from a ladder: what several streams at once come to. */
const randomRateSchema = object({
  runId: string().required().max(80),
  direction: direction(),
  blockBytes: number().positive().required(),
  depth: number().integer().min(1).required(),
  bytesPerSecond: rate(),
});
export type RandomRate = InferType<typeof randomRateSchema>;

const profileRunSchema = object({
  runId: string().required().max(80),
  /** What somebody typed of it, and no run. */
  isPromise: isPromiseSchema(),
  /** Null for a promise. */
  recipe: recipeIdSchema().nullable(),
  /** Its options as one text: runs of the same are alike. Null in older profiles. */
  options: string().max(20_000).nullable().default(null).meta({ addedLater: true }),
  startedAt: string().required().max(40),
  /** Share of the volume that was in use when it began; null where its size is not known. */
  fillShare: number().min(0).max(1).nullable().defined(),
  startCelsius: number().nullable().defined(),
  /** Doubts about the run as a whole and about both directions. */
  doubts: array(doubtSchema.required()).required(),
  traces: array(evidenceSchema.required()).required(),
  paced: pacedProofSchema.nullable().defined().default(undefined),
  random: array(randomRateSchema.required()).required(),
  rungs: array(requestRungSchema.required()).default([]).meta({ addedLater: true }),
  /** What opening and reading a file costs beside its bytes, seconds. */
  fileSeconds: number().min(0).nullable().default(null).meta({ addedLater: true }),
  /** What making a file costs beside its bytes, seconds. */
  createSeconds: number().min(0).nullable().default(null).meta({ addedLater: true }),
});
export type ProfileRun = InferType<typeof profileRunSchema>;

export const profileSchema = object({
  tavrox: string()
    .oneOf([PROFILE_VERSION] as const)
    .required(),
  drive: object({
    id: string().required().max(80),
    label: string().required().max(120),
    medium: string().oneOf(MEDIA).required(),
  }).required(),
  connection: connectionSchema.required(),
  /** What the system told of the connection, where a person typed another. */
  detected: connectionSchema.optional().default(undefined).meta({ addedLater: true }),
  /** Newest first. */
  runs: array(profileRunSchema.required()).max(400).required(),
});
export type Profile = InferType<typeof profileSchema>;

/** @throws Problem `bad-input` that names the place of the first fault. */
export function parseProfile(input: unknown): Profile {
  const profile = parseDocument(profileSchema, input, 'profile');
  const runs = profile.runs.map((run) => ({
    ...run,
    traces: run.traces.map((trace) => ({ ...trace, curves: trace.curves.map(withoutKinds) })),
  }));
  return { ...profile, runs };
}

/** What one run adds to the profile of its drive. */
export function profileRunOf(run: RunDocument, summary: RunSummary = summaryOf(run)): ProfileRun {
  const { freeBytes, totalBytes } = run.conditions.start;
  return {
    runId: run.id,
    recipe: run.recipe,
    options: optionsText(run.options),
    startedAt: run.startedAt,
    fillShare: totalBytes > 0 ? Math.min(1, Math.max(0, 1 - freeBytes / totalBytes)) : null,
    startCelsius: summary.startCelsius,
    doubts: summary.doubts,
    traces: evidenceOfRun(run, summary),
    paced: pacedProofOf(run, summary),
    random: requestRungsOf(run.id, summary)
      .filter((rung) => rung.order === 'random')
      .map(({ direction: way, blockBytes, depth, bytesPerSecond }) => ({
        runId: run.id,
        direction: way,
        blockBytes,
        depth,
        bytesPerSecond,
      })),
    rungs: requestRungsOf(run.id, summary),
    fileSeconds: fileSecondsOf(summary, 'read'),
    createSeconds: fileSecondsOf(summary, 'create'),
  };
}

/** Options in the order of their names; null where they are more than a profile holds. */
function optionsText(options: object): string | null {
  const text = JSON.stringify(Object.entries(options).sort(([a], [b]) => (a < b ? -1 : 1)));
  return text.length <= 20_000 ? text : null;
}

/** Two runs were made on the same connection when their hops are the same. */
function connectionKey({ hops }: Connection): string {
  return hops
    .map(({ linkId, lanes, ceilingBytesPerSecond }) => `${linkId} ${lanes} ${ceilingBytesPerSecond}`)
    .join(', ');
}

/** The profile of a connection as the system tells it: what a drive did on another link proves nothing on this one. */
export const profileOn = (profiles: readonly Profile[], connection: Connection): Profile | null =>
  profiles.find((one) => connectionKey(one.detected ?? one.connection) === connectionKey(connection)) ?? null;

/**
 * The profiles of a drive, one for each connection it was measured on, the latest first.
 * @param runs with what each adds, newest first
 */
export function profilesOf(
  drive: Profile['drive'],
  runs: readonly { connection: Connection; adds: ProfileRun }[],
): Profile[] {
  const profiles = new Map<string, Profile>();
  for (const { connection, adds } of runs) {
    const key = connectionKey(connection);
    const known = profiles.get(key);
    if (known) known.runs.push(adds);
    else profiles.set(key, { tavrox: PROFILE_VERSION, drive, connection, runs: [adds] });
  }
  return [...profiles.values()];
}

/** What a verdict is drawn from. */
export interface Supply {
  medium: Profile['drive']['medium'];
  traces: Evidence[];
  paced: PacedProof[];
  random: RandomRate[];
  /** Most that its link carries of both ways together; null where each way has it to itself, or it is not known. */
  bothWaysBytesPerSecond: number | null;
  /** Nothing of it was measured: all of it was typed. */
  isPromise: boolean;
  /** What reads and writes of a size come to. */
  requests: Pick<RequestSupply, 'rungs' | 'operationSeconds' | 'ceilingBytesPerSecond'>;
}

/** @param connection over which it is reached, where that is known */
export function supplyOf({
  drive,
  runs,
  connection,
}: Pick<Profile, 'drive' | 'runs'> & { connection?: Connection }): Supply {
  const traces = runs.flatMap((run) => run.traces);
  const recovery = leastRecovery(traces.flatMap((trace) => trace.recovery));
  return {
    medium: drive.medium,
    // What a rest gives back belongs to the drive: a run that made none takes it from those that did.
    traces: traces.map((trace) =>
      trace.kneeBytes !== null && trace.recovery.length === 0 && recovery.length > 0 ? { ...trace, recovery } : trace,
    ),
    paced: runs.flatMap((run) => run.paced ?? []),
    random: runs.flatMap((run) => run.random),
    isPromise: traces.length > 0 && traces.every((trace) => trace.isPromise === true),
    bothWaysBytesPerSecond: connection ? bothWaysCeiling(connection) : null,
    requests: {
      rungs: runs.flatMap((run) => run.rungs ?? []),
      operationSeconds: runs.find((run) => (run.fileSeconds ?? null) !== null)?.fileSeconds ?? null,
      ceilingBytesPerSecond: (connection && bindingHop(connection)?.ceilingBytesPerSecond) ?? null,
    },
  };
}

/**
 * What a verdict on a volume is drawn from.
 * @param profile of its drive on its connection, see {@link profileOn}; null where nothing is known
 * @param newer runs that the profile does not hold yet
 */
export function supplyOn(
  profile: Profile | null,
  volume: { medium: Medium; connection: Connection },
  newer: readonly ProfileRun[] = [],
): Supply {
  return supplyOf({
    drive: profile?.drive ?? { id: 'unkept', label: '', medium: volume.medium },
    runs: [...newer, ...(profile?.runs ?? [])],
    connection: profile?.connection ?? volume.connection,
  });
}

/** What is known of reading in requests of any size, in no order, and of writing for long. */
export function readRequests({ requests, traces }: Supply): RequestSupply {
  const sequential = traces.filter((one) => one.direction === 'read').map((one) => one.medianBytesPerSecond);
  const floors = traces.filter((one) => one.direction === 'write').map((one) => one.span.floorBytesPerSecond);
  return {
    ...requests,
    rungs: requests.rungs.filter(({ direction: way, order }) => way === 'read' && order === 'random'),
    sequentialBytesPerSecond: sequential.length > 0 ? Math.min(...sequential) : null,
    writeBytesPerSecond: floors.length > 0 ? Math.min(...floors) : null,
  };
}

/** The trace of a run in a direction; undefined when a verdict was drawn from something else. */
export function traceBehind({ traces }: Supply, runId: string | null, way: Direction): Evidence | undefined {
  return traces.find((one) => one.runId === runId && one.direction === way);
}

/** Media that lose time going from one stream to another. */
export const seeks = ({ medium }: Pick<Supply, 'medium'>): boolean => medium === 'spinning' || medium === 'network';

/** Of several points for about the same rest the least, shortest rest first. */
function leastRecovery(points: readonly RecoveryPoint[]): RecoveryPoint[] {
  const least = new Map<number, RecoveryPoint>();
  for (const point of points) {
    const key = Math.round(point.restSeconds);
    const known = least.get(key);
    if (!known || point.regainedBytes < known.regainedBytes) least.set(key, point);
  }
  return [...least.values()].sort((a, b) => a.restSeconds - b.restSeconds);
}

/** What a profile lacks, each as one sentence that says what would fill it. */
export function missingParts(supply: Supply): string[] {
  const has = (way: Direction) => supply.traces.filter((one) => one.direction === way);
  if (supply.isPromise) return ['Nothing of it was measured: what stands here is what was typed of it.'];
  const missing: string[] = [];
  if (has('write').length === 0) missing.push('Writing has not been measured: Short passes take ten seconds.');
  if (has('read').length === 0) missing.push('Reading has not been measured: Short passes take ten seconds.');
  const flash = supply.medium === 'flash' || supply.medium === 'unknown';
  if (flash && has('write').length > 0 && has('write').every((one) => one.kneeBytes === null)) {
    missing.push('The end of its fast cache has not been seen: a Long fill until the floor shows it.');
  } else if (flash && has('write').length > 0 && has('write').every((one) => one.recovery.length === 0)) {
    missing.push('What a rest gives back is not known: a Long fill with rests on the floor shows it.');
  }
  if (seeks(supply) && supply.random.length === 0) {
    missing.push('Several streams at once have not been measured: a Block ladder or Paced frames show them.');
  }
  return missing;
}
