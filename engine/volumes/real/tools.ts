import type { Emit } from '#core/4-runs/run/run-events.ts';
import type { Scratch } from '#engine/scratch/scratch.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import type { SessionFiles } from '#engine/volumes/real/files.ts';
import type { IoTeam } from '#engine/volumes/real/io-team.ts';
import type { StepPart } from '#engine/volumes/step-events.ts';
import type { DiskBytes } from '#engine/system/system.ts';

/** What the parts of a real volume's session share. */
export interface RealTools {
  info: RealVolumeInfo;
  scratch: Scratch | null;
  files: SessionFiles;
  /** Bytes moved in the run by steps that ended. */
  moved: { write: number; read: number };
  /** Monotonic seconds at which the session began. */
  startSeconds: number;
  nowSeconds: () => number;
  /** At least so many workers. */
  teamOf: (size: number) => Promise<IoTeam>;
  deviceBytes: () => DiskBytes | null;
  emitBypass: (part: StepPart, ownBytes: number, before: DiskBytes | null, after: DiskBytes | null, emit: Emit) => void;
  /** Tells what is watched of the bytes of the step that goes on; null when it ended. */
  whileMoving: (bytes: (() => number) | null) => void;
}
