/**
 * The one formatter of figures. Pictures and sentences show at most three significant digits,
 * details show all of them. Every function gives the number and its unit apart, so that the
 * interface can set the unit smaller, and `…Text` joins them with a narrow space.
 */
export interface Figure {
  number: string;
  unit: string;
}

export type Precision = 'picture' | 'full';

/** U+202F keeps a number and its unit on one line without a wide gap. */
const NARROW_SPACE = '\u202f';

/** A number with grouped thousands and a minus that is no hyphen; three significant digits for pictures, all for details. */
export function formatNumber(value: number, precision: Precision = 'picture'): string {
  if (!Number.isFinite(value)) return '–';
  if (precision === 'full') return value.toLocaleString('en-US', { maximumFractionDigits: 3 });
  if (value === 0) return '0';
  const rounded = Number(value.toPrecision(3));
  const fractionDigits = Math.abs(rounded) >= 100 ? 0 : Math.abs(rounded) >= 10 ? 1 : 2;
  return rounded.toLocaleString('en-US', { maximumFractionDigits: fractionDigits }).replace('-', '−');
}

const BYTE_STEPS: readonly [number, string][] = [
  [1e15, 'PB'],
  [1e12, 'TB'],
  [1e9, 'GB'],
  [1e6, 'MB'],
  [1e3, 'kB'],
];

const BINARY_STEPS: readonly [number, string][] = [
  [1024 ** 5, 'PiB'],
  [1024 ** 4, 'TiB'],
  [1024 ** 3, 'GiB'],
  [1024 ** 2, 'MiB'],
  [1024, 'KiB'],
];

/** Units of amounts: TB of 10^12 bytes, as makers count, or TiB of 2^40, as some systems show. */
export type ByteUnits = 'decimal' | 'binary';

const stepsIn = (units: ByteUnits) => (units === 'binary' ? BINARY_STEPS : BYTE_STEPS);

function scaled(value: number, steps: readonly [number, string][], smallest: string, precision: Precision): Figure {
  if (precision === 'full') return { number: formatNumber(value, 'full'), unit: smallest };
  // 999.7 MB must read as 1 GB, not as 1,000 MB: choose the step after rounding.
  const magnitude = Number(Math.abs(value).toPrecision(3));
  const step = steps.find(([size]) => magnitude >= size);
  return step
    ? { number: formatNumber(value / step[0]), unit: step[1] }
    : { number: formatNumber(value), unit: smallest };
}

/** The unit in which an amount is read, and its bytes: for axes that show many amounts in one. */
export function byteUnit(bytes: number, units: ByteUnits = 'decimal'): { unit: string; bytes: number } {
  const { unit } = formatBytes(bytes, 'picture', units);
  return { unit, bytes: stepsIn(units).find(([, name]) => name === unit)?.[0] ?? 1 };
}

/** Bytes in decimal units, 46.2 GB, or in binary ones, 43 GiB. */
export function formatBytes(bytes: number, precision: Precision = 'picture', units: ByteUnits = 'decimal'): Figure {
  return scaled(bytes, stepsIn(units), 'B', precision);
}

/** Rates under this are reported in kB/s or B/s: in MB/s they would be nothing. */
const SMALL_RATE = 0.1e6;

/**
 * Bytes per second in MB/s: throughputs are compared with one another, so the unit does not change at 1,000; only
 * what is very small has a smaller one. Full precision keeps three decimals of a MB/s.
 */
export function formatRate(bytesPerSecond: number, precision: Precision = 'picture'): Figure {
  if (precision === 'picture' && bytesPerSecond > 0 && bytesPerSecond < SMALL_RATE) {
    const { number, unit } = formatBytes(bytesPerSecond);
    return { number, unit: `${unit}/s` };
  }
  return { number: formatNumber(bytesPerSecond / 1e6, precision), unit: 'MB/s' };
}

/** Network rates in bits per second: 4.38 Gb/s. */
export function formatBitRate(bytesPerSecond: number): Figure {
  const bits = bytesPerSecond * 8;
  return bits >= 1e9
    ? { number: formatNumber(bits / 1e9), unit: 'Gb/s' }
    : { number: formatNumber(bits / 1e6), unit: 'Mb/s' };
}

/** A span of time as people say it: 350 ms, 12.5 s, 1 min 26 s, 2 h 38 min, 5 days. */
export function formatDuration(seconds: number): string {
  if (!Number.isFinite(seconds)) return '–';
  if (seconds < 0.0005) return seconds <= 0 ? '0 s' : `${formatNumber(seconds * 1e6)} µs`;
  if (seconds < 0.9995) return `${formatNumber(seconds * 1e3)} ms`;
  if (seconds < 59.95) return `${formatNumber(Math.round(seconds * 10) / 10)} s`;
  const whole = Math.round(seconds);
  if (whole >= 3 * 86_400) return `${formatNumber(Math.round(whole / 86_400))} days`;
  const [hours, minutes, rest] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60];
  if (hours >= 1) return minutes === 0 ? `${hours} h` : `${hours} h ${minutes} min`;
  return rest === 0 ? `${minutes} min` : `${minutes} min ${rest} s`;
}

/** A day as people write it: “2 March 2026”. @param iso where the reader is it may be another day than in UTC */
export const longDay = (iso: string): string =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

/** A clock for running times: 0:07, 12:45, 1:02:09. */
export function formatClock(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const hours = Math.floor(whole / 3600);
  const minutes = Math.floor((whole % 3600) / 60);
  const tail = String(whole % 60).padStart(2, '0');
  return hours > 0 ? `${hours}:${String(minutes).padStart(2, '0')}:${tail}` : `${minutes}:${tail}`;
}

/** How long before or after its deadline something was done: “12 ms early”, “1.3 s late”. */
export function latenessText(seconds: number): string {
  return seconds <= 0 ? `${formatDuration(-seconds)} early` : `${formatDuration(seconds)} late`;
}

/** A text for a figure that may not be known. */
export function orDash<T>(value: T | null, text: (value: T) => string): string {
  return value === null ? '–' : text(value);
}

/** 0.253 → 25 %. */
export function formatShare(share: number): string {
  return `${formatNumber(share * 100)}${NARROW_SPACE}%`;
}

/** Joins a figure with its unit by a narrow no-break space. */
export function figureText(figure: Figure): string {
  return `${figure.number}${NARROW_SPACE}${figure.unit}`;
}

export const bytesText = (bytes: number, precision: Precision = 'picture', units: ByteUnits = 'decimal'): string =>
  figureText(formatBytes(bytes, precision, units));
export const rateText = (bytesPerSecond: number, precision: Precision = 'picture'): string =>
  figureText(formatRate(bytesPerSecond, precision));

/** Block sizes are powers of two and are read as such: 8 MiB, 64 KiB. */
export function blockText(bytes: number): string {
  if (bytes % 1024 !== 0) return bytesText(bytes);
  return bytes >= 1 << 20
    ? `${formatNumber(bytes / (1 << 20))}${NARROW_SPACE}MiB`
    : `${formatNumber(bytes / 1024)}${NARROW_SPACE}KiB`;
}

/** A number of things in words: *1 file*, *2,400 files*. */
export const count = (value: number, one: string, many: string): string =>
  `${formatNumber(value, 'full')} ${value === 1 ? one : many}`;

/** Decibels to a tenth; more is not to be heard. */
export const decibelText = (decibels: number): string => `${decibels.toFixed(1)}${NARROW_SPACE}dB`;
