/** The next whole number from a value on; a part that only rounding of sums left is none. */
export const wholeUp = (value: number): number => Math.ceil(value * (1 - 1e-12));
