import type { DoubtKind } from '#core/4-runs/supply/doubts/doubt.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';

const HOT_START_CELSIUS = 10;

/** The drive was warm already. */
export const hotStart: DoubtKind = {
  code: 'hot-start',
  effect: 'too-low',
  advice: 'Let the drive cool for some minutes and measure again.',
  find({ conditions: { start, series } }) {
    const began = series.temperatureCelsius.find((celsius) => celsius !== null) ?? null;
    if (began === null || start.coolestCelsius === null || began <= start.coolestCelsius + HOT_START_CELSIUS) return [];
    const coolest = `this drive has begun at ${formatNumber(start.coolestCelsius)} °C`;
    return [{ evidence: `It began at ${formatNumber(began)} °C; ${coolest}.` }];
  },
};
