/**
 * JSON with the fields of every object in one order, and without those that are not there: two documents that hold the
 * same are the same text, wherever they came from.
 */
export function canonical(value: unknown): string {
  if (Array.isArray(value)) {
    // Columns of numbers are most of a run.
    return typeof value[0] === 'number' ? JSON.stringify(value) : `[${value.map(canonical).join(',')}]`;
  }
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  const fields = Object.entries(value)
    .filter(([, one]) => one !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return `{${fields.map(([key, one]) => `${JSON.stringify(key)}:${canonical(one)}`).join(',')}}`;
}
