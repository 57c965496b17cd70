import { array, number, object, type InferType } from 'yup';
import { burstOver } from '#core/3-jobs/demand/demand.ts';
import {
  constantRate,
  frameRateSchema,
  labelSchema,
  type EssenceKind,
} from '#core/3-jobs/demand/essences/essence-kind.ts';
import { kindSchema } from '#core/3-jobs/demand/item-kind.ts';
import { progressBytes, progressDuration, type Progress } from '#core/1-ground/curves/progress.ts';
import { rateText } from '#core/1-ground/units/format.ts';

const columnSchema = () => array(number().min(0).required()).min(2).max(20_000).required();

const schema = object({
  kind: kindSchema('curve'),
  label: labelSchema,
  seconds: columnSchema(),
  bytes: columnSchema(),
  frameRate: frameRateSchema.optional().default(undefined),
}).test('curve', 'seconds and bytes must be as many, begin at 0, not go back, and come to more than nothing', isCurve);
export type CurveEssence = InferType<typeof schema>;

function isCurve({ seconds, bytes }: { seconds?: number[]; bytes?: number[] }): boolean {
  if (!seconds || !bytes || seconds.length !== bytes.length || seconds[0] !== 0 || bytes[0] !== 0) return false;
  const grows = (column: number[]) => column.every((value, row) => row === 0 || value >= column[row - 1]!);
  return grows(seconds) && grows(bytes) && seconds.at(-1)! > 0 && bytes.at(-1)! > 0;
}

/** A demand that changes over the take: bytes asked for by a moment, from zero, piecewise linear. */
export const curveKind: EssenceKind<CurveEssence> = {
  kind: 'curve',
  schema,
  rate({ seconds, bytes, frameRate, label }, streams) {
    const curve = { seconds, bytes: bytes.map((one) => one * streams) };
    const average = progressBytes(curve) / progressDuration(curve);
    // Its frames differ: a program moves about a tenth of a second of it at a time.
    const chunk = constantRate(average / streams, streams, null, '');
    return {
      ...chunk,
      peak: steepest(curve),
      burst: burstOver(curve, average),
      curve,
      frameRate: frameRate ?? null,
      text: `${label}, ${rateText(average)} on average`,
    };
  },
  name: ({ label }) => label,
  form: null,
};

/** Highest rate between two points of a curve. */
function steepest({ seconds, bytes }: Progress): number {
  let highest = 0;
  for (let point = 1; point < seconds.length; point += 1) {
    const took = seconds[point]! - seconds[point - 1]!;
    if (took > 0) highest = Math.max(highest, (bytes[point]! - bytes[point - 1]!) / took);
  }
  return highest;
}
