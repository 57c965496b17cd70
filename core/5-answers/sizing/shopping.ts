import { kindsOf, stackSize, type Build } from '#core/5-answers/sizing/builds.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';

/** One line of what has to be bought for a build. */
export interface ShoppingLine {
  what: string;
  count: number;
  /** Of these so many are there already. */
  there: number;
  price: number;
  sum: number;
}

/** Everything that a build costs, line by line; what costs nothing and is no drive is left out. */
export function shoppingList({ drives, enclosures, connections }: Sizing, build: Build): ShoppingLine[] {
  const together = stackSize(build) + build.spares;
  const lines = kindsOf(drives, build, build.spares).map(({ drive, count, spares }): ShoppingLine => {
    const needed = count + spares;
    const there = Math.min(needed, drive.there);
    return { what: drive.label, count: needed, there, price: drive.price, sum: (needed - there) * drive.price };
  });
  const thing = (what: string, price: number, count = 1): ShoppingLine => ({
    what,
    count,
    there: 0,
    price,
    sum: price * count,
  });
  for (const { label, price, parts } of [enclosures[build.enclosure]!, connections[build.connection]!]) {
    const own = parts.map((part) => thing(`${label}: ${part.label}`, part.price, part.each ? together : 1));
    lines.push(...[thing(label, price), ...own].filter((line) => line.price > 0));
  }
  return lines;
}
