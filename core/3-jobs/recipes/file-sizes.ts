/** Sizes of many files, drawn as quantiles, so that they are the same in every run. */

/** How sizes of the files of a made payload are spread. */
export const MADE_SIZES = ['even', 'photo', 'project'] as const;
export type MadeSizes = (typeof MADE_SIZES)[number];

/** Standard deviation of the logarithm of the sizes. */
const SPREAD: Record<MadeSizes, number> = { even: 0, photo: 0.45, project: 1.9 };

/**
 * Sizes of so many files that come to so many bytes together: all alike, or log-normal as quantiles, so
 * that they are the same each time. The last takes what rounding left. Bytes, in the order of copying.
 */
export function madeSizes(bytes: number, files: number, spread: MadeSizes): number[] {
  const weights = Array.from({ length: files }, (_, index) =>
    Math.exp(SPREAD[spread] * normalQuantile((index + 0.5) / files)),
  );
  const sum = weights.reduce((all, weight) => all + weight, 0);
  const order = mixedOrder(files);
  const sizes = order.map((index) => Math.floor((bytes * weights[index]!) / sum));
  sizes[files - 1]! += bytes - sizes.reduce((all, size) => all + size, 0);
  return sizes;
}

/** Small and large mixed, the same way each time: steps of a golden-section stride. */
export function mixedOrder(count: number): number[] {
  let stride = Math.max(1, Math.round(count * 0.618_033_988_75));
  while (greatestCommonDivisor(stride, count) !== 1) stride += 1;
  return Array.from({ length: count }, (_, index) => (index * stride) % count);
}

function greatestCommonDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestCommonDivisor(b, a % b);
}

/** Quantile of the normal distribution (Acklam's rational approximation, relative error under 1.2e-9). */
export function normalQuantile(share: number): number {
  const a = [
    -39.6968302866538, 220.946098424521, -275.928510446969, 138.357751867269, -30.6647980661472, 2.50662827745924,
  ];
  const b = [-54.4760987982241, 161.585836858041, -155.698979859887, 66.8013118877197, -13.2806815528857];
  const c = [
    -0.00778489400243029, -0.322396458041136, -2.40075827716184, -2.54973253934373, 4.37466414146497, 2.93816398269878,
  ];
  const d = [0.00778469570904146, 0.32246712907004, 2.445134137143, 3.75440866190742];
  const tail = (q: number) =>
    (((((c[0]! * q + c[1]!) * q + c[2]!) * q + c[3]!) * q + c[4]!) * q + c[5]!) /
    ((((d[0]! * q + d[1]!) * q + d[2]!) * q + d[3]!) * q + 1);
  if (share < 0.02425) return tail(Math.sqrt(-2 * Math.log(share)));
  if (share > 1 - 0.02425) return -tail(Math.sqrt(-2 * Math.log(1 - share)));
  const q = share - 0.5;
  const r = q * q;
  return (
    ((((((a[0]! * r + a[1]!) * r + a[2]!) * r + a[3]!) * r + a[4]!) * r + a[5]!) * q) /
    (((((b[0]! * r + b[1]!) * r + b[2]!) * r + b[3]!) * r + b[4]!) * r + 1)
  );
}
