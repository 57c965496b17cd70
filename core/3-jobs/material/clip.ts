import type { MaterialRates, MaterialSample } from '#core/3-jobs/material/sample-rates.ts';

/** What a clip tells without being decoded. */
export interface Clip {
  /** Codec and raster of the picture, or what there is instead. */
  description: string;
  rates: MaterialRates;
  /** Bytes of each frame of the picture in the order in which they are shown; empty for sound. */
  frames: MaterialSample[];
}

/** What can stop the reading: an AbortSignal. */
export interface Stop {
  readonly aborted: boolean;
  throwIfAborted(): void;
}
