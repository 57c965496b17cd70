/** The parts of fft.js that are used; the library brings no types of its own. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    /** Fills the first half of `out`, real and imaginary parts in turns, from so many real values. */
    realTransform(out: number[], data: ArrayLike<number>): void;
  }
}
