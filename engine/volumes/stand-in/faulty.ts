import { Problem } from '#core/1-ground/problem.ts';
import type { Mismatch } from '#core/4-runs/run/run-events.ts';
import { faultAt, type Fault } from '#core/4-runs/stand-ins/faults.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import type { TransferStep } from '#engine/volumes/volume.ts';
import { PAGE_BYTES } from '#core/1-ground/units/page.ts';

/** Faults of a stand-in that end a transfer or spoil what is read, as a real drive's do. */
export interface Faulty {
  /** Bytes of a transfer from `position` on that can be moved before a fault ends it. */
  reach(step: Pick<TransferStep, 'direction'>, position: number, bytes: number): number;
  /** @throws Problem when a fault strikes at this position and moment. */
  strike(step: Pick<TransferStep, 'direction'>, position: number, clockSeconds: number): void;
  /** What is read back wrongly of a stretch, when `writtenBytes` were written before. */
  mismatches(fromByte: number, toByte: number, pass: number, writtenBytes: number): Mismatch[];
}

function failed(what: string): Problem {
  return new Problem(
    'drive-failed',
    `${what} What was measured before is kept; check the drive and its cable before the next run.`,
    { status: 500 },
  );
}

export function faultyOf(faults: readonly Fault[]): Faulty {
  const full = faultAt(faults, 'full');
  const readError = faultAt(faults, 'read-error');
  const unplugged = faultAt(faults, 'unplugged');
  const wrong = faultAt(faults, 'wrong-data');
  const real = faultAt(faults, 'falsified-capacity');
  const limitOf = ({ direction }: Pick<TransferStep, 'direction'>) => (direction === 'write' ? full : readError);
  return {
    reach(step, position, bytes) {
      const limit = limitOf(step);
      return limit !== null && position < limit ? Math.min(bytes, limit - position) : bytes;
    },
    strike(step, position, clockSeconds) {
      if (unplugged !== null && clockSeconds >= unplugged) throw failed('The drive is gone.');
      const limit = limitOf(step);
      if (limit === null || position < limit) return;
      if (step.direction === 'write') throw failed(`The volume is full while writing at ${bytesText(position)}.`);
      throw failed(`The drive reported a read error at ${bytesText(position)} of the scratch file.`);
    },
    mismatches(fromByte, toByte, pass, writtenBytes) {
      const found: Mismatch[] = [];
      if (wrong !== null && wrong >= fromByte && wrong < toByte) {
        found.push({ fileOffset: Math.floor(wrong / PAGE_BYTES) * PAGE_BYTES, foundOffset: null, pass });
      }
      // Behind the real capacity writing went on at the start: there lies what belongs further back.
      if (real !== null && writtenBytes > real && fromByte < Math.min(toByte, writtenBytes - real)) {
        found.push({ fileOffset: fromByte, foundOffset: fromByte + Math.floor(real / PAGE_BYTES) * PAGE_BYTES, pass });
      }
      return found;
    },
  };
}
