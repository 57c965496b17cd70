import type { Emit } from '#core/4-runs/run/run-events.ts';
import type { Device } from '#engine/volumes/stand-in/device.ts';
import type { Faulty } from '#engine/volumes/stand-in/faulty.ts';
import type { StepControl } from '#engine/volumes/volume.ts';

export interface StandInPace {
  /** Simulated seconds per real second; Infinity runs as fast as the processor allows. */
  speed: number;
  seed: number;
}

/** What the parts of a stand-in's session share. */
export interface StandInTools {
  device: Device;
  faulty: Faulty;
  /** Bytes moved in the run so far. */
  moved: { write: number; read: number };
  /** Lets real time catch up with the simulated clock, and tells of what is watched. */
  tick: (emit: Emit, control: StepControl) => Promise<void>;
}
