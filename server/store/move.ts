import { createHash } from 'node:crypto';
import { and, asc, eq, getTableColumns, getTableName, gt, sql, type SQL } from 'drizzle-orm';
import type { PgColumn, PgTable } from 'drizzle-orm/pg-core';
import { Problem } from '#core/1-ground/problem.ts';
import type { Database } from '#server/store/database.ts';
import {
  drives,
  hosts,
  projects,
  reportDocuments,
  reports,
  runChunks,
  runs,
  settings,
  tokens,
  workloads,
} from '#server/store/schema.ts';

/** A whole workspace from one store to another, row by row, checked by counts and checksums. */

/** A table, and its rows in an order that every database has alike. */
interface Moving {
  table: PgTable;
  rows: (db: Database) => AsyncGenerator<object[]>;
}

/** Texts in the order of their bytes, whatever the language of a server. */
const inOrder = (column: PgColumn): SQL => (column.getSQLType() === 'text' ? sql`${column} collate "C"` : asc(column));

/** Rows that are on their way at once. */
const ROWS_AT_ONCE = 200;

const byKey = (table: PgTable, ...key: PgColumn[]): Moving => ({
  table,
  async *rows(db) {
    for (let offset = 0; ; offset += ROWS_AT_ONCE) {
      const some = db
        .select()
        .from(table)
        .orderBy(...key.map(inOrder));
      const rows = await some.limit(ROWS_AT_ONCE).offset(offset);
      if (rows.length > 0) yield rows;
      if (rows.length < ROWS_AT_ONCE) return;
    }
  },
});

/** Chunks run by run: there are a million of them where there are a thousand runs. */
const chunksByRun: Moving = {
  table: runChunks,
  async *rows(db) {
    const ids = await db.select({ id: runs.id }).from(runs).orderBy(inOrder(runs.id));
    for (const { id } of ids) {
      for (let last = -1; ;) {
        const rows = await db
          .select()
          .from(runChunks)
          .where(and(eq(runChunks.runId, id), gt(runChunks.sequence, last)))
          .orderBy(asc(runChunks.sequence))
          .limit(ROWS_AT_ONCE);
        if (rows.length > 0) yield rows;
        if (rows.length < ROWS_AT_ONCE) break;
        last = rows.at(-1)!.sequence;
      }
    }
  },
};

/** Every table in the order in which they refer to each other. */
const TABLES: readonly Moving[] = [
  byKey(drives, drives.id),
  byKey(hosts, hosts.id),
  byKey(runs, runs.id),
  chunksByRun,
  byKey(projects, projects.id),
  byKey(workloads, workloads.id),
  byKey(reports, reports.id),
  byKey(reportDocuments, reportDocuments.reportId, reportDocuments.kind, reportDocuments.documentId),
  byKey(settings, settings.id),
  byKey(tokens, tokens.id),
];

export interface MovedTable {
  table: string;
  rows: number;
  /** SHA-256 of all of its rows in their order. */
  checksum: string;
}

/** A row as one text, whatever order a database gives the parts of a document in; times as moments. */
function rowText(row: object, table: PgTable): string {
  const columns = getTableColumns(table);
  const parts = Object.entries(row).map(([name, value]: [string, unknown]) => {
    const isMoment = columns[name]?.getSQLType().startsWith('timestamp') && typeof value === 'string';
    return [name, isMoment ? new Date(value).toISOString() : sorted(value)];
  });
  return JSON.stringify(parts);
}

function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (value === null || typeof value !== 'object') return value;
  return Object.entries(value)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, part]: [string, unknown]) => [name, sorted(part)]);
}

/** @param onRows takes them on their way */
async function sumOf(
  db: Database,
  { table, rows }: Moving,
  onRows: (some: object[]) => Promise<unknown> = () => Promise.resolve(),
): Promise<MovedTable> {
  const hash = createHash('sha256');
  let count = 0;
  for await (const some of rows(db)) {
    for (const row of some) hash.update(rowText(row, table)).update('\n');
    count += some.length;
    await onRows(some);
  }
  return { table: getTableName(table), rows: count, checksum: hash.digest('hex') };
}

/**
 * Copies everything into an empty store, and compares both; what is in the first stays there. All of it is there
 * afterwards, or nothing.
 * @param onTable told before each table
 * @throws Problem `not-empty` where the other holds anything, `not-alike` where what arrived is not what left
 */
export async function moveStore(
  from: Database,
  to: Database,
  onTable: (name: string) => void = () => undefined,
): Promise<MovedTable[]> {
  for (const { table } of TABLES) {
    if ((await to.select().from(table).limit(1)).length === 0) continue;
    throw new Problem(
      'not-empty',
      'There is something in the other store already. Nothing is put over it: name an empty one.',
      { status: 409 },
    );
  }
  return to.transaction(async (tx) => {
    const moved: MovedTable[] = [];
    for (const one of TABLES) {
      const name = getTableName(one.table);
      onTable(name);
      const left = await sumOf(from, one, (rows) => tx.insert(one.table).values(rows));
      const arrived = await sumOf(tx, one);
      if (left.rows !== arrived.rows || left.checksum !== arrived.checksum) {
        throw new Problem(
          'not-alike',
          `What arrived of ${name} is not what left: ${left.rows} and ${arrived.rows} rows. Nothing was kept there.`,
          { status: 500 },
        );
      }
      moved.push(arrived);
    }
    return moved;
  });
}
