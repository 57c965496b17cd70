import { csvText } from '#core/1-ground/csv.ts';
import type { Build } from '#core/5-answers/sizing/builds.ts';
import { copiedDay } from '#core/5-answers/sizing/copy-time.ts';
import { explainBuild } from '#core/5-answers/sizing/explain.ts';
import type { StoreResult } from '#core/5-answers/sizing/project-search.ts';
import type { SearchBasis } from '#core/5-answers/sizing/search-basis.ts';

const COLUMNS = [
  'store',
  'build',
  'cost',
  'usable_bytes',
  'cost_per_usable_tb',
  'margin',
  'writes_bytes_per_second',
  'reads_bytes_per_second',
  'degraded_bytes_per_second',
  'copies_a_day_in_seconds',
  'full_on_day',
  'endurance_years',
  'rebuild_seconds',
  'ruled_out_by',
] as const;

/** A number with so many digits after its point; nothing where there is none, or no end to it. */
const rounded = (value: number | null, digits: number): number | null =>
  value !== null && Number.isFinite(value) ? Number(value.toFixed(digits)) : null;

/** The efficient builds of every store of a project, as {@link buildsCsv} writes them. */
export const efficientBuildsCsv = (stores: readonly StoreResult[]): string =>
  buildsCsv(stores.map(({ basis, result }) => ({ basis, builds: result.front })));

/** Builds as a table for a spreadsheet: one a line, in the order given. Rates in bytes per second. */
export function buildsCsv(stores: readonly { basis: SearchBasis; builds: readonly Build[] }[]): string {
  const rows = stores.flatMap(({ basis, builds }) =>
    builds.map((build) => {
      const one = explainBuild(basis, build);
      return [
        basis.store,
        one.name,
        one.cost,
        one.usableBytes,
        rounded(one.cost / (one.usableBytes / 1e12), 2),
        rounded(one.margin, 4),
        one.writeBytesPerSecond,
        one.readBytesPerSecond,
        one.degradedBytesPerSecond,
        one.copies && copiedDay(one.copies, null).seconds,
        one.fullOnDay,
        rounded(one.enduranceYears, 2),
        one.rebuildSeconds,
        one.constraint,
      ];
    }),
  );
  return csvText(COLUMNS, rows);
}
