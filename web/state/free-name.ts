/** A name that none of those there are has: the wanted one, or with a number behind it. */
export function freeName(wanted: string, taken: readonly string[]): string {
  if (!taken.includes(wanted)) return wanted;
  for (let number = 2; ; number += 1) if (!taken.includes(`${wanted} ${number}`)) return `${wanted} ${number}`;
}
