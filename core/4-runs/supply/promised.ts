import { bareEvidence, EVER_SECONDS } from '#core/4-runs/supply/bare-evidence.ts';
import type { DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import { DIRECTIONS, type Direction } from '#core/1-ground/curves/direction.ts';
import { bindingHop } from '#core/2-trade/links/connection.ts';
import type { Evidence } from '#core/4-runs/supply/evidence.ts';
import { profilesOf, type Profile, type ProfileRun } from '#core/4-runs/supply/profile.ts';
import type { RequestRung } from '#core/4-runs/supply/request-profile.ts';
import { NO_LOST_TIME } from '#core/4-runs/trace/lost-time.ts';
import { curveOf, longestCurve, type SupplyCurve } from '#core/4-runs/trace/supply-curve.ts';

/** What stands on the box of a drive as evidence: its verdicts are promises until a run of it takes over. */

/** A drive with a card, as far as its promise goes by it. */
export interface PromisingDrive {
  id: string;
  medium: Profile['drive']['medium'];
  capacityBytes: number;
  details: DriveDetails;
  createdAt: string;
}

/** Where nothing is typed of the inner tracks of a spinning drive, they are taken to be half as fast as the outer ones. */
export const INNER_SHARE = 0.5;
/** Stretches into which the tracks are parted: within each the rate is taken to be one. */
const TRACK_STRETCHES = 48;
/** Sizes of requests for which an access time tells a rate, bytes. */
const REQUEST_BYTES = [4096, 65_536, 1024 * 1024, 16 * 1024 * 1024];

/** What a card promises, as a run that nobody made; null where it promises no rate. */
export function promisedRun(drive: PromisingDrive): ProfileRun | null {
  const traces = DIRECTIONS.flatMap((direction) => evidenceOf(drive, direction) ?? []);
  if (traces.length === 0) return null;
  const rungs = rungsOf(drive, traces);
  return {
    runId: promisedId(drive.id),
    isPromise: true,
    recipe: null,
    options: null,
    startedAt: drive.createdAt,
    fillShare: null,
    startCelsius: null,
    doubts: [],
    traces,
    paced: null,
    random: rungs.map(({ runId, direction, blockBytes, depth, bytesPerSecond }) => ({
      runId,
      direction,
      blockBytes,
      depth,
      bytesPerSecond,
    })),
    rungs,
    fileSeconds: drive.details.accessSeconds ?? null,
    createSeconds: null,
  };
}

/** What a card promises as a profile, where nothing of the drive was measured; null where it promises no rate. */
export function promisedProfile(drive: PromisingDrive & { label: string }): Profile | null {
  const adds = promisedRun(drive);
  if (adds === null) return null;
  const { id, label, medium, details } = drive;
  return profilesOf({ id, label, medium }, [{ connection: { hops: details.hops ?? [] }, adds }])[0]!;
}

const promisedId = (driveId: string): string => `box-${driveId}`.slice(0, 80);

function evidenceOf(drive: PromisingDrive, direction: Direction): Evidence | null {
  const { details, medium, capacityBytes } = drive;
  const promised = direction === 'write' ? details.ratedWriteBytesPerSecond : details.ratedReadBytesPerSecond;
  if (promised === null) return null;
  // No box makes its link quicker.
  const link = bindingHop({ hops: details.hops ?? [] })?.ceilingBytesPerSecond ?? Infinity;
  const rate = Math.min(promised, link);
  const runId = promisedId(drive.id);
  const constant = { ...bareEvidence(runId, direction, rate), runId, medium };
  if (medium === 'spinning' && capacityBytes > 0) {
    const inner = Math.min(rate, details.ratedInnerBytesPerSecond ?? INNER_SHARE * rate);
    return { ...constant, ...tracks(rate, inner, capacityBytes) };
  }
  const { ratedFloorBytesPerSecond: floor, ratedFallBytes: fall } = details;
  if (direction !== 'write' || floor === undefined || floor >= rate) return constant;
  return { ...constant, ...withFloor(rate, floor, fall ?? 0) };
}

type Shape = Pick<
  Evidence,
  'curves' | 'parted' | 'provenBytes' | 'continuedBytes' | 'kneeBytes' | 'levelEnds' | 'medianBytesPerSecond' | 'span'
>;

/** Its fast cache as far as it goes, and then its floor for ever. */
function withFloor(opening: number, floor: number, fallBytes: number): Shape {
  const levels = fallBytes > 0 ? [{ bytes: fallBytes, bytesPerSecond: opening }] : [];
  return {
    ...shapeOf(levels, floor),
    kneeBytes: fallBytes > 0 ? fallBytes : null,
    levelEnds: fallBytes > 0 ? [fallBytes] : [],
    medianBytesPerSecond: floor,
  };
}

/** From the outer tracks to the inner ones, in a straight line over its capacity, and at the inner rate for ever. */
function tracks(outer: number, inner: number, capacityBytes: number): Shape {
  const levels = Array.from({ length: TRACK_STRETCHES }, (_, stretch) => ({
    bytes: capacityBytes / TRACK_STRETCHES,
    bytesPerSecond: outer - (outer - inner) * ((stretch + 0.5) / TRACK_STRETCHES),
  }));
  const shape = shapeOf(levels, inner);
  return {
    ...shape,
    kneeBytes: null,
    levelEnds: [],
    medianBytesPerSecond: (outer + inner) / 2,
    span: { ...shape.span, openingBytesPerSecond: outer },
  };
}

/** Levels one after the other and a floor for ever, with no time lost on any of them: nobody promises pauses. */
function shapeOf(levels: readonly { bytes: number; bytesPerSecond: number }[], floor: number) {
  const all = [...levels, { bytes: floor * EVER_SECONDS, bytesPerSecond: floor }];
  const [seconds, bytes] = [[0], [0]];
  for (const level of all) {
    seconds.push(seconds.at(-1)! + level.bytes / level.bytesPerSecond);
    bytes.push(bytes.at(-1)! + level.bytes);
  }
  const opening = all[0]!.bytesPerSecond;
  const provenBytes = bytes.at(-1)!;
  return {
    curves: [curveOf({ seconds, bytes })],
    parted: [
      {
        levels: { toBytes: bytes.slice(1), bytesPerSecond: all.map(({ bytesPerSecond }) => bytesPerSecond) },
        lost: NO_LOST_TIME,
        swingFromBytes: null,
        before: null,
        behind: [],
        withoutBursts: NO_LOST_TIME,
        fastestBytesPerSecond: opening,
      },
    ],
    provenBytes,
    continuedBytes: provenBytes,
    span: { worstSecondBytesPerSecond: floor, floorBytesPerSecond: floor, openingBytesPerSecond: opening },
  };
}

/** The curve of evidence as it is drawn: what was typed goes on for ever, and is cut where the drive is full. */
export function drawnCurve(
  { curves, isPromise }: Pick<Evidence, 'curves' | 'isPromise'>,
  capacityBytes: number,
): SupplyCurve {
  const curve = longestCurve(curves);
  if (isPromise !== true || !(capacityBytes > 0) || curve.bytes.at(-1)! <= capacityBytes) return curve;
  const end = curve.bytes.findIndex((bytes) => bytes >= capacityBytes);
  const [fromBytes, toBytes] = [curve.bytes[end - 1]!, curve.bytes[end]!];
  const share = (capacityBytes - fromBytes) / (toBytes - fromBytes);
  const at = curve.seconds[end - 1]! + share * (curve.seconds[end]! - curve.seconds[end - 1]!);
  return curveOf({
    seconds: [...curve.seconds.slice(0, end), at],
    bytes: [...curve.bytes.slice(0, end), capacityBytes],
  });
}

/** One request after the other: each takes the access time and its bytes at the least rate. */
function rungsOf({ details, id }: PromisingDrive, traces: readonly Evidence[]): RequestRung[] {
  const access = details.accessSeconds;
  if (access === undefined || access <= 0) return [];
  return traces.flatMap(({ direction, span }) =>
    REQUEST_BYTES.map((blockBytes) => {
      const seconds = access + blockBytes / span.floorBytesPerSecond;
      return {
        runId: promisedId(id),
        direction,
        order: 'random' as const,
        blockBytes,
        depth: 1,
        bytesPerSecond: blockBytes / seconds,
        latencyP50Seconds: seconds,
        latencyP99Seconds: seconds,
        latencyMaxSeconds: seconds,
      };
    }),
  );
}
