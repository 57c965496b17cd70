/**
 * How many of a list pass, when none passes behind the first that does not; by halves.
 * @param passes whether the one at an index does
 */
export function countPassing(length: number, passes: (index: number) => boolean): number {
  let [low, high] = [0, length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (passes(middle)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** How many of ascending values are at most so much. */
export const countAtMost = (ascending: ArrayLike<number>, value: number): number =>
  countPassing(ascending.length, (index) => ascending[index]! <= value);

/**
 * Halves an interval so often, keeping what passes at its lower end and what does not at its upper; nothing passes
 * above the first value that does not.
 * @returns the highest value seen to pass, and the lowest seen not to; the ends themselves are not tried
 */
export function halved(
  from: number,
  to: number,
  times: number,
  passes: (value: number) => boolean,
): { passing: number; failing: number } {
  let [passing, failing] = [from, to];
  for (let step = 0; step < times; step += 1) {
    const middle = (passing + failing) / 2;
    if (passes(middle)) passing = middle;
    else failing = middle;
  }
  return { passing, failing };
}
