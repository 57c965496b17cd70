import FFT from 'fft.js';
import { aWeight } from '#core/2-trade/sound/a-weighting.ts';

/** Samples that are looked at together: 0.17 s at 48 kHz, so that 50 Hz is told from what lies beside it. */
const WINDOW = 8192;
const HOP = WINDOW / 2;
/** Windows of a level. */
const WINDOWS = 6;

/** What a microphone gives that gives nothing. */
const SILENCE_DECIBELS = -200;

/** Seconds of each level. */
export const levelSeconds = (sampleRate: number): number => (WINDOWS * HOP) / sampleRate;

/**
 * Levels of a sound, A-weighted and averaged by energy over `levelSeconds` each (IEC 61672-1, time-averaged level), in
 * decibels against the mean square of full scale. Windows of von Hann that overlap by half.
 * @param sampleRate samples per second
 * @param tell a level, as soon as it is known
 * @returns takes the sound piece by piece
 */
export function createLevelMeter(
  sampleRate: number,
  tell: (decibels: number) => void,
): (samples: ArrayLike<number>) => void {
  const fft = new FFT(WINDOW);
  const spectrum = fft.createComplexArray();
  const taper = Float64Array.from({ length: WINDOW }, (_, at) => 0.5 - 0.5 * Math.cos((2 * Math.PI * at) / WINDOW));
  const taperPower = taper.reduce((sum, value) => sum + value ** 2, 0);
  // A line of the spectrum stands for itself and its mirror image, but the first and the last.
  const weights = Float64Array.from({ length: HOP + 1 }, (_, line) => {
    const mirrored = line === 0 || line === HOP ? 1 : 2;
    return (mirrored * aWeight((line * sampleRate) / WINDOW) ** 2) / (WINDOW * taperPower);
  });
  const held = new Float64Array(WINDOW);
  const tapered = new Float64Array(WINDOW);
  let filled = 0;
  let windows = 0;
  let power = 0;

  const powerOfWindow = (): number => {
    for (let at = 0; at < WINDOW; at += 1) tapered[at] = held[at]! * taper[at]!;
    fft.realTransform(spectrum, tapered);
    let sum = 0;
    for (let line = 0; line <= HOP; line += 1) {
      sum += weights[line]! * (spectrum[2 * line]! ** 2 + spectrum[2 * line + 1]! ** 2);
    }
    return sum;
  };

  return (samples) => {
    for (let at = 0; at < samples.length; at += 1) {
      held[filled] = samples[at]!;
      filled += 1;
      if (filled < WINDOW) continue;
      power += powerOfWindow();
      held.copyWithin(0, HOP);
      filled = HOP;
      windows += 1;
      if (windows < WINDOWS) continue;
      tell(Math.max(SILENCE_DECIBELS, 10 * Math.log10(power / WINDOWS)));
      [windows, power] = [0, 0];
    }
  };
}
