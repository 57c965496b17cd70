export const VERDICTS = ['holds', 'tight', 'breaks', 'not-proven'] as const;
export type VerdictWord = (typeof VERDICTS)[number];

/** A verdict as it stands on a screen or a page. */
const VERDICT_NAME: Record<VerdictWord, string> = {
  holds: 'Holds',
  tight: 'Tight',
  breaks: 'Breaks',
  'not-proven': 'Not proven',
};

/** The ink that a verdict is drawn in, wherever it is. */
export const VERDICT_INK = {
  holds: 'holds',
  tight: 'tight',
  breaks: 'breaks',
  'not-proven': 'notProven',
} as const satisfies Record<VerdictWord, string>;

export interface Policy {
  /** Share of the rate that must be left over for *Holds*, 0.25 by default. */
  headroomShare: number;
}
export const DEFAULT_POLICY: Policy = { headroomShare: 0.25 };

/** Why a verdict is what it is; the sentence is made from it. */
export type VerdictReason =
  | 'carried'
  /** Played or recorded frame by frame, nothing extrapolated. */
  | 'done'
  | 'too-slow'
  | 'full'
  | 'too-short'
  /** Slow moments by the clock that may or may not fall so that it breaks. */
  | 'worst-moment'
  | 'later-takes'
  | 'doubtful'
  /** Several streams on a drive that has to seek between them. */
  | 'several-streams'
  /** Writing and reading at the same time. */
  | 'mixed'
  | 'no-run'
  /** A series of which the drive takes more than it may, and one where that hangs on its cache emptying meanwhile. */
  | 'drive-share'
  | 'cache-between'
  /** Of a cache that is played: showing its frames takes too long, whatever the drive. */
  | 'showing'
  /** A phase of a load that takes too long, and one whose kind of requests was not measured. */
  | 'over-limit'
  /** A load that has no limit to stay within. */
  | 'no-limit'
  | 'requests-unknown';

/** Whether one demand holds on one drive, and what is known about it. Null where it does not apply. */
export interface Verdict {
  verdict: VerdictWord;
  reason: VerdictReason;
  /** Within its take; the earliest, where it is certain only between two moments. */
  breaksAtSeconds: number | null;
  /** The latest of them; null where one moment is reported. */
  breaksAtLatestSeconds: number | null;
  breaksAtBytes: number | null;
  /** Number of the take in which it breaks, from 1; null for the first or where it does not. */
  breaksInTake: number | null;
  /** The first take that is not known to be carried until then; null where that is not what is missing. */
  unknownFromTake: number | null;
  /** For *Not proven* the lower bound over the proven bytes. */
  guaranteedBytesPerSecond: number | null;
  /** Most that the run moved in a second: no rate is reported above it. */
  rateSeenBytesPerSecond: number | null;
  leastBufferBytes: number | null;
  provenBytes: number | null;
  /** How long the demand is proven to be carried. */
  provenSeconds: number | null;
  /** Whether the run was continued beyond its last byte, and along what. */
  continued: boolean;
  continuedAlong: 'floor' | 'tracks' | 'memory' | null;
  /** A drive that empties its cache while it is asked for less than its rate lasts longer than said. */
  atLeast: boolean;
  runId: string | null;
  wouldProve: ProvingRun | null;
  /** It rests on what was typed of a drive: *would hold*, *would break*. */
  isPromise: boolean;
}

/** The run that would settle what is not proven. */
export interface ProvingRun {
  /** A fill of that size, reading as much that was not just written, or the job itself, frame by frame. */
  recipe: 'long-fill' | 'existing-material' | 'paced-frames' | 'block-ladder';
  /** A fill that reads everything back, for what is to be played. */
  readsBack: boolean;
  bytes: number;
  /** About how long it takes at the rates seen; null when none were. */
  seconds: number | null;
  /** Rest on the floor that shows what a gap between takes gives back, seconds; null for none. */
  restSeconds: number | null;
  /** Of a ladder the rungs that are needed, read in no order, and for how many loads at once. */
  ladder?: { blocks: number[]; depths: number[]; loads: number };
}

const PROMISED_NAME: Record<VerdictWord, string> = {
  holds: 'Would hold',
  tight: 'Would just hold',
  breaks: 'Would break',
  'not-proven': 'Not proven',
};

/** What a verdict is called: one that rests on what was typed of a drive is a promise, and says so. */
export const verdictName = ({ verdict, isPromise }: Pick<Verdict, 'verdict' | 'isPromise'>): string =>
  isPromise ? PROMISED_NAME[verdict] : VERDICT_NAME[verdict];

/** A verdict of which nothing is known yet. */
export const UNKNOWN: Omit<Verdict, 'verdict' | 'reason'> = {
  breaksAtSeconds: null,
  breaksAtLatestSeconds: null,
  breaksAtBytes: null,
  breaksInTake: null,
  guaranteedBytesPerSecond: null,
  rateSeenBytesPerSecond: null,
  unknownFromTake: null,
  leastBufferBytes: null,
  provenBytes: null,
  provenSeconds: null,
  continued: false,
  continuedAlong: null,
  atLeast: false,
  runId: null,
  wouldProve: null,
  isPromise: false,
};

/** The verdict where no run says anything about a demand. */
export const noRunVerdict = (wouldProve: Verdict['wouldProve']): Verdict => ({
  ...UNKNOWN,
  verdict: 'not-proven',
  reason: 'no-run',
  provenBytes: 0,
  provenSeconds: 0,
  wouldProve,
});

/** A verdict with its words, for what is no stream of frames. */
export interface ItemVerdict {
  verdict: Verdict;
  sentence: string;
  /** The verdict in a few words. */
  short: string;
}
