import { array, lazy, boolean, number, object, string, type InferType, type Schema } from 'yup';
import { jsonSchemaOf } from '#core/schema/json-schema.ts';
import { parseDocument } from '#core/schema/parse-document.ts';

/** A named list of demands. The JSON Schema is docs/formats/workload.schema.json. */
export const WORKLOAD_VERSION = 'workload/1';

const frameRateSchema = object({
  numerator: number().integer().positive().required(),
  denominator: number().integer().positive().required(),
});

const soundSchema = object({
  tracks: number().integer().min(1).max(4096).required(),
  samplesPerSecond: number().positive().max(1e6).required(),
  bytesPerSample: number().positive().max(16).required(),
});

/** A picture format of core/media, as data. */
const pictureSchema = object({
  kind: string()
    .oneOf(['picture'] as const)
    .required(),
  layoutId: string().required().max(60),
  raster: object({
    width: number().integer().min(1).max(65536).required(),
    height: number().integer().min(1).max(65536).required(),
  }).required(),
  frameRate: frameRateSchema.required(),
  ratio: number().min(1).optional(),
  megabitsPerSecond: number().positive().optional(),
  peakFactor: number().min(1).optional(),
  containerShare: number().min(0).max(1).optional(),
  fileBlockBytes: number().integer().positive().optional(),
  sound: soundSchema.optional().default(undefined),
});

const soundOnlySchema = object({
  kind: string()
    .oneOf(['sound'] as const)
    .required(),
  sound: soundSchema.required(),
});

/** A format that the person gives by its rate. */
const ownSchema = object({
  kind: string()
    .oneOf(['own'] as const)
    .required(),
  label: string().required().max(120),
  /** Of one stream. */
  bytesPerSecond: number().positive().max(1e12).required(),
  frameRate: frameRateSchema.optional().default(undefined),
  peakFactor: number().min(1).max(100).optional(),
});

/** A format taken from real material. */
const measuredSchema = object({
  kind: string()
    .oneOf(['measured'] as const)
    .required(),
  label: string().required().max(120),
  bytesPerSecond: number().positive().max(1e12).required(),
  peakBytesPerSecond: number().positive().max(1e12).required(),
  /** Most bytes by which any stretch of it exceeds its average. */
  burstBytes: number().min(0).max(1e15).required(),
  frameRate: frameRateSchema.required(),
  /** Whether each frame is a file. */
  sequence: boolean().required(),
});

/** A demand that changes over the take: bytes asked for by a moment, from zero, piecewise linear. */
const curveSchema = object({
  kind: string()
    .oneOf(['curve'] as const)
    .required(),
  label: string().required().max(120),
  seconds: array(number().min(0).required()).min(2).max(20_000).required(),
  bytes: array(number().min(0).required()).min(2).max(20_000).required(),
  frameRate: frameRateSchema.optional().default(undefined),
}).test('curve', 'seconds and bytes must be as many, begin at 0, not go back, and come to more than nothing', isCurve);

function isCurve({ seconds, bytes }: { seconds?: number[]; bytes?: number[] }): boolean {
  if (!seconds || !bytes || seconds.length !== bytes.length || seconds[0] !== 0 || bytes[0] !== 0) return false;
  const grows = (column: number[]) => column.every((value, row) => row === 0 || value >= column[row - 1]!);
  return grows(seconds) && grows(bytes) && seconds.at(-1)! > 0 && bytes.at(-1)! > 0;
}

const ESSENCES = {
  picture: pictureSchema,
  sound: soundOnlySchema,
  own: ownSchema,
  measured: measuredSchema,
  curve: curveSchema,
} as const;

export type Picture = InferType<typeof pictureSchema>;
export type Essence =
  | Picture
  | InferType<typeof soundOnlySchema>
  | InferType<typeof ownSchema>
  | InferType<typeof measuredSchema>
  | InferType<typeof curveSchema>;

const essenceSchema = lazy((value: { kind?: string } | undefined) =>
  (ESSENCES[(value?.kind ?? '') as keyof typeof ESSENCES] ?? pictureSchema).required(),
).meta({
  jsonSchema: { anyOf: Object.values(ESSENCES).map((schema) => jsonSchemaOf(schema)) },
}) as unknown as Schema<Essence>;

/** Buffer of the recording or playing program: it says which of the two was given. */
const bufferSchema = object({
  unit: string()
    .oneOf(['seconds', 'bytes'] as const)
    .required(),
  amount: number().min(0).required(),
});

/** Footage recorded or played in takes. */
export const footageItemSchema = object({
  kind: string()
    .oneOf(['footage'] as const)
    .required(),
  id: string().required().max(80),
  name: string().required().max(120),
  action: string()
    .oneOf(['record', 'play'] as const)
    .required(),
  essence: essenceSchema,
  streams: number().integer().min(1).max(1000).required(),
  takes: object({
    count: number().integer().min(1).max(10_000).required(),
    seconds: number().positive().max(1e7).required(),
    gapSeconds: number().min(0).max(1e7).required(),
  }).required(),
  buffer: bufferSchema.required(),
  /** Goes on at the same time as the other items that say so. */
  together: boolean().optional().default(undefined),
});
export type FootageItem = InferType<typeof footageItemSchema>;

export const workloadSchema = object({
  tavrox: string()
    .oneOf([WORKLOAD_VERSION] as const)
    .required(),
  id: string().required().max(80),
  name: string().required().max(120),
  note: string().defined().max(4000),
  example: boolean().required(),
  items: array(footageItemSchema.required()).max(200).required(),
});
export type Workload = InferType<typeof workloadSchema>;

/** @throws Problem `bad-input` that names the place of the first fault. */
export function parseWorkload(input: unknown): Workload {
  return parseDocument(workloadSchema, input, 'workload');
}
