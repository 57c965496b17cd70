/** Poles of the A curve, Hz (IEC 61672-1). */
const [LOW, LOW_MIDDLE, HIGH_MIDDLE, HIGH] = [20.598997, 107.65265, 737.86223, 12194.217].map((pole) => pole ** 2) as [
  number,
  number,
  number,
  number,
];

const responseOf = (hertz: number): number => {
  const square = hertz ** 2;
  return (
    (HIGH * square ** 2) /
    ((square + LOW) * Math.sqrt((square + LOW_MIDDLE) * (square + HIGH_MIDDLE)) * (square + HIGH))
  );
};

const AT_1000_HERTZ = responseOf(1000);

/**
 * How loud a tone counts by the A curve, as a factor of its amplitude; 1 at 1,000 Hz.
 * Source: IEC 61672-1:2013, annex E.
 */
export const aWeight = (hertz: number): number => responseOf(hertz) / AT_1000_HERTZ;
