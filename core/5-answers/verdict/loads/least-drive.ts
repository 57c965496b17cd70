import type { LoadItem } from '#core/3-jobs/demand/loads/load-item.ts';
import { ceilingBytesPerSecond, linkKindById } from '#core/2-trade/links/links.ts';
import type { RequestRung } from '#core/4-runs/supply/request-profile.ts';
import type { RequestSupply } from '#core/4-runs/supply/request-rate.ts';
import { loadTimes, staysWithin } from '#core/5-answers/verdict/loads/phase-times.ts';

/** A class of drive in round numbers, for saying which is the least that will do before one is bought. */
interface DriveClass {
  label: string;
  /** Of one request beside its bytes, seconds. */
  requestSeconds: number;
  bytesPerSecond: number;
  /** Requests that it works on at the same time. */
  parallel: number;
}

/** From the slowest on. Round figures of each class, no drive's own. */
export const DRIVE_CLASSES: readonly DriveClass[] = [
  { label: 'a memory card', requestSeconds: 0.0009, bytesPerSecond: 90e6, parallel: 1 },
  { label: 'a spinning drive', requestSeconds: 0.012, bytesPerSecond: 200e6, parallel: 1 },
  { label: 'flash on SATA', requestSeconds: 0.00011, bytesPerSecond: 520e6, parallel: 16 },
  { label: 'flash on USB 10 Gb/s', requestSeconds: 0.00013, bytesPerSecond: 950e6, parallel: 16 },
  { label: 'flash on PCIe 3', requestSeconds: 0.00008, bytesPerSecond: 3200e6, parallel: 32 },
  { label: 'flash on PCIe 4', requestSeconds: 0.00006, bytesPerSecond: 6800e6, parallel: 32 },
];

/** Links over which such things are kept, from the slowest on, with their round trip, seconds. */
const LINKS: readonly { linkId: string; roundTripSeconds: number }[] = [
  { linkId: 'ethernet-1', roundTripSeconds: 0.0003 },
  { linkId: 'ethernet-2.5', roundTripSeconds: 0.0003 },
  { linkId: 'ethernet-5', roundTripSeconds: 0.0003 },
  { linkId: 'ethernet-10', roundTripSeconds: 0.0002 },
  { linkId: 'ethernet-25', roundTripSeconds: 0.0001 },
];

const BLOCKS = Array.from({ length: 13 }, (_, power) => 4096 * 2 ** power);
const DEPTHS = [1, 4, 16, 64];

/** Rungs as a drive of a class would show them: a time for each request, and the medium behind all. */
function rungsOf({ requestSeconds, bytesPerSecond, parallel }: DriveClass): RequestRung[] {
  return DEPTHS.flatMap((depth) =>
    BLOCKS.map((blockBytes): RequestRung => {
      const one = requestSeconds + blockBytes / bytesPerSecond;
      const rate = Math.min(bytesPerSecond, (Math.min(depth, parallel) * blockBytes) / one);
      return {
        runId: 'class',
        direction: 'read',
        order: 'random',
        blockBytes,
        depth,
        bytesPerSecond: rate,
        latencyP50Seconds: one,
        latencyP99Seconds: one * 3,
        latencyMaxSeconds: one * 20,
      };
    }),
  );
}

function supplyOfClass(drive: DriveClass): RequestSupply {
  return {
    rungs: rungsOf(drive),
    sequentialBytesPerSecond: drive.bytesPerSecond,
    ceilingBytesPerSecond: null,
    operationSeconds: drive.requestSeconds * 2,
    writeBytesPerSecond: drive.bytesPerSecond,
  };
}

const carries = (item: LoadItem, supply: RequestSupply): boolean =>
  loadTimes(item, supply)?.phases.every(staysWithin) ?? false;

/** The slowest class of drive on which every phase stays within its limit; null when none does. */
export function leastDriveClass(item: LoadItem): string | null {
  return DRIVE_CLASSES.find((drive) => carries(item, supplyOfClass(drive)))?.label ?? null;
}

/** What is waited for on each class of drive, seconds, from the slowest class on. */
export const classTimes = (item: LoadItem): { label: string; seconds: number }[] =>
  DRIVE_CLASSES.map((drive) => ({
    label: drive.label,
    seconds: loadTimes(item, supplyOfClass(drive))?.totalSeconds ?? 0,
  }));

/** The slowest network over which every phase stays within its limit with the fastest drive behind it; null when none does. */
export function leastLink(item: LoadItem): string | null {
  const fastest = DRIVE_CLASSES.at(-1)!;
  for (const { linkId, roundTripSeconds } of LINKS) {
    const kind = linkKindById(linkId);
    if (!kind) continue;
    const ceiling = ceilingBytesPerSecond(kind, 1);
    const behind: DriveClass = {
      ...fastest,
      requestSeconds: fastest.requestSeconds + roundTripSeconds,
      bytesPerSecond: Math.min(fastest.bytesPerSecond, ceiling),
    };
    const supply = { ...supplyOfClass(behind), ceilingBytesPerSecond: ceiling };
    if (carries(item, supply)) return kind.label;
  }
  return null;
}
