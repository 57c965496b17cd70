import { Problem } from '#core/1-ground/problem.ts';
import { booksBytes, reserveBytes, type Space } from '#core/4-runs/supply/room.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { freeBytesAt } from '#engine/volumes/real/free-bytes.ts';
import type { StepControl } from '#engine/volumes/volume.ts';

/** Ends a run before its reserve is used up, whoever writes. */
export interface RoomWatch {
  /** Aborts once what is free comes down to the reserve. */
  readonly signal: AbortSignal;
  /** @throws Problem `room-gone` once the signal aborted */
  check(): void;
  end(): void;
}

/** What is written at most between two looks: the quickest memory of today. */
const FASTEST_BYTES_PER_SECOND = 10e9;
const SHORTEST_MILLISECONDS = 20;
const LONGEST_MILLISECONDS = 1000;

/**
 * Looks at what is free, the more often the less it is. A volume that cannot be asked is left to those who write to it.
 * @param spaces mount points, and what was free there when the run was planned
 */
export function watchRoom(spaces: readonly (Space & { mountPoint: string })[]): RoomWatch {
  const stop = new AbortController();
  let gone: Problem | undefined;
  const timers = spaces.map(({ mountPoint, freeBytes, usesAll }) => {
    const reserve = reserveBytes({ freeBytes, usesAll });
    const leastAt = (free: number): number => reserve - booksBytes(freeBytes - free);
    const timer = { next: undefined as NodeJS.Timeout | undefined, over: false };
    const look = async (): Promise<void> => {
      const free = await freeBytesAt(mountPoint).catch(() => null);
      if (timer.over) return;
      if (free !== null && free < leastAt(free)) {
        gone ??= roomGone(mountPoint, free, reserve);
        stop.abort();
        return;
      }
      const milliseconds =
        free === null ? LONGEST_MILLISECONDS : ((free - leastAt(free)) / FASTEST_BYTES_PER_SECOND) * 1000;
      timer.next = setTimeout(
        () => void look(),
        Math.min(LONGEST_MILLISECONDS, Math.max(SHORTEST_MILLISECONDS, milliseconds)),
      );
    };
    void look();
    return timer;
  });
  return {
    signal: stop.signal,
    check() {
      if (gone) throw gone;
    },
    end() {
      for (const timer of timers) {
        timer.over = true;
        clearTimeout(timer.next);
      }
    },
  };
}

/** What a step obeys, and the watch over the room with it. */
export const within = (room: RoomWatch | null, control: StepControl): StepControl =>
  room === null ? control : { ...control, signal: AbortSignal.any([control.signal, room.signal]) };

const roomGone = (mountPoint: string, freeBytes: number, reserve: number): Problem =>
  new Problem(
    'room-gone',
    `Something else was written to ${mountPoint} meanwhile: ${bytesText(freeBytes)} are free, and ${bytesText(reserve)} have to stay so. The run was ended before more of that was used. What was measured before is kept; free some space, or measure less.`,
  );
