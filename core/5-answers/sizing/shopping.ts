import { enclosureCount, kindsOf, stackSize, type Build } from '#core/5-answers/sizing/builds.ts';
import { partsNeeded, sharedName } from '#core/5-answers/sizing/parts.ts';
import { csvText } from '#core/1-ground/csv.ts';
import { STORE_WORDS, type StoreId } from '#core/5-answers/sizing/stores.ts';
import type { Sizing } from '#core/5-answers/sizing/project.ts';

/** One line of what has to be bought for a build. */
export interface ShoppingLine {
  what: string;
  count: number;
  /** Of these so many are there already. */
  there: number;
  price: number;
  sum: number;
  /** Of a part that serves all stores. */
  sharedName?: string;
}

/** What has to be bought for several stores, as a table for a spreadsheet: a line a thing, and the sum last. */
export function shoppingCsv(
  stores: readonly { store: StoreId; lines: readonly ShoppingLine[] }[],
  currency: string,
): string {
  const rows = stores.flatMap(({ store, lines }) =>
    lines.map(({ what, count, there, price, sum }) => [
      STORE_WORDS[store],
      what,
      count,
      there,
      count - there,
      price,
      sum,
      currency,
    ]),
  );
  const total = stores.flatMap(({ lines }) => lines).reduce((all, { sum }) => all + sum, 0);
  return csvText(
    ['store', 'what', 'needed', 'there', 'to_buy', 'price', 'sum', 'currency'],
    [...rows, ['in all', '', null, null, null, null, total, currency]],
  );
}

/** Lists of several stores: a part that serves them all is bought for the first of them, and is there for the others. */
export function boughtOnce<Store>(
  stores: readonly { store: Store; lines: readonly ShoppingLine[] }[],
): { store: Store; lines: ShoppingLine[] }[] {
  const bought = new Set<string>();
  return stores.map(({ store, lines }) => ({
    store,
    lines: lines.map((line) => {
      if (line.sharedName === undefined) return line;
      const isThere = bought.has(line.sharedName);
      bought.add(line.sharedName);
      return isThere ? { ...line, there: line.count, sum: 0 } : line;
    }),
  }));
}

/** Everything that a build costs, line by line; what costs nothing and is no drive is left out. */
export function shoppingList(sizing: Sizing, build: Build): ShoppingLine[] {
  const { drives, enclosures, connections } = sizing;
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
  const enclosure = enclosures[build.enclosure]!;
  for (const [{ label, price, parts }, count] of [
    [enclosure, enclosureCount(sizing, build)],
    [connections[build.connection]!, 1],
  ] as const) {
    const own = parts.map((part) => ({
      ...thing(`${label}: ${part.label}`, part.price, count === 0 ? 0 : partsNeeded(part, together, count)),
      ...(part.shared ? { sharedName: sharedName(part) } : {}),
    }));
    lines.push(...[thing(label, price, count), ...own].filter((line) => line.price > 0 && line.count > 0));
  }
  return lines;
}
