import { createHash, randomUUID } from 'node:crypto';
import { statSync } from 'node:fs';
import { basename } from 'node:path';
import type { Command } from 'commander';
import { bytesOf, writeOut, type Write } from '#cli/files.ts';
import { print, printJson } from '#cli/output.ts';
import { inStore } from '#cli/in-store.ts';
import { openServer } from '#cli/through-server.ts';
import { isTableName, traceOfText } from '#core/1-ground/curves/table-trace.ts';
import { badInput } from '#core/1-ground/problem.ts';
import { runOfTable } from '#core/4-runs/supply/table-run.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { ARCHIVE_KINDS } from '#core/6-exchange/archive/archive-kinds.ts';
import { TAKES, type Take } from '#core/6-exchange/archive/plan.ts';
import { arrivalText, countsText } from '#core/6-exchange/archive/plan-words.ts';
import { selectedIds, selectionOf } from '#server/archive/collect.ts';
import type { ImportPreview } from '#core/6-exchange/api/wire.ts';
import { carryOutImport, previewImport } from '#server/archive/import.ts';
import { readIncoming } from '#server/archive/read-archive.ts';
import { writeArchive } from '#server/archive/write-archive.ts';
import { defaultDataFolder } from '#server/serve.ts';

interface ExportFlags {
  out: string;
  only?: string;
  data?: string;
  json?: boolean;
}

interface ImportFlags {
  dryRun?: boolean;
  drive?: string;
  read?: boolean;
  columns?: string;
  take: string;
  data?: string;
  json?: boolean;
}

export function addArchiveCommands(program: Command): void {
  program
    .command('export')
    .description('an archive of the workspace, or of parts of it: a zip of documents that another Tavrox takes in')
    .option('--out <file>', 'where it goes', 'tavrox.zip')
    .option('--only <what>', `kinds (${ARCHIVE_KINDS.join(', ')}) or kind:id, parted by commas; without, everything`)
    .option('--data <folder>', 'data folder (default TAVROX_DATA or your own)')
    .option('--json', 'print what is in it as JSON')
    .action(async ({ out, only, data = defaultDataFolder(), json = false }: ExportFlags) => {
      selectionOf(only ?? '');
      const bytes = await writeOut(out, (write) => exportTo(data, only, write));
      if (json) printJson({ file: out, bytes });
      else print(`${out}, ${bytesText(bytes)}`);
    });
  program
    .command('import')
    .description(
      'takes in an archive, a document of Tavrox, a report as PDF or HTML, or a trace as a table: all of it, or nothing',
    )
    .argument('<file>', 'what is to be taken in')
    .option('--drive <name>', 'of a table: the drive that it was measured on')
    .option('--read', 'of a table: it was read, and not written')
    .option('--columns <names>', 'of a table that does not say it: “Elapsed in ms; Write in MB/s”')
    .option('--dry-run', 'only say what would change')
    .option('--take <which>', `where something is there already and is another: ${TAKES.join(', ')}`, 'newer')
    .option('--data <folder>', 'data folder (default TAVROX_DATA or your own)')
    .option('--json', 'print what changes as JSON')
    .action(async (file: string, flags: ImportFlags) => {
      const { dryRun = false, take, data = defaultDataFolder(), json = false } = flags;
      const known = TAKES.find((one) => one === take);
      if (!known) throw badInput('take', `--take: “${take}” is none of ${TAKES.join(', ')}.`);
      const read = await bytesOf(file, 'file');
      const bytes = isTableName(file) ? runOfFile(read, file, flags) : read;
      const preview = await importInto(data, bytes, basename(file), known, dryRun);
      if (json) printJson({ file, dryRun, ...preview });
      else printPreview(preview, known, dryRun);
    });
}

/** The run that a trace in a table was, as a document. */
function runOfFile(bytes: Buffer, file: string, { drive, read = false, columns }: ImportFlags): Buffer {
  const driveLabel = (drive ?? basename(file).replace(/\.\w+$/, '')).trim().slice(0, 120);
  if (driveLabel === '') throw badInput('drive', '--drive: is empty. Name the drive that it was measured on.');
  const trace = traceOfText(bytes.toString('utf8'), columns, 'file');
  const run = runOfTable(trace, {
    id: `table-${randomUUID().slice(0, 8)}`,
    // The same name means the same drive.
    driveId: `table-${createHash('sha256').update(driveLabel).digest('hex').slice(0, 8)}`,
    driveLabel,
    direction: read ? 'read' : 'write',
    startedAt: statSync(file).mtime.toISOString(),
    file: basename(file),
  });
  return Buffer.from(JSON.stringify(run));
}

/** Through the server that runs on the data folder, which alone may open its store; else here. */
async function exportTo(data: string, only: string | undefined, write: Write): Promise<void> {
  const server = await openServer(data);
  if (server) {
    const response = await server.fetch(
      'GET',
      `/api/archive${only === undefined ? '' : `?only=${encodeURIComponent(only)}`}`,
    );
    for await (const part of response.body as unknown as AsyncIterable<Uint8Array>) await write(part);
    return;
  }
  await inStore(data, async ({ db }) => {
    await writeArchive(db, await selectedIds(db, selectionOf(only ?? '')), write);
  });
}

async function importInto(
  data: string,
  bytes: Buffer,
  name: string,
  take: Take,
  dryRun: boolean,
): Promise<ImportPreview> {
  const server = await openServer(data);
  if (server) {
    const path = `/api/archive${dryRun ? '/preview' : ''}?take=${take}&name=${encodeURIComponent(name)}`;
    return (await (await server.fetch('POST', path, bytes)).json()) as ImportPreview;
  }
  const incoming = readIncoming(bytes, name);
  return await inStore(data, ({ db }) =>
    dryRun ? previewImport(db, incoming, take) : carryOutImport(db, incoming, take, () => false),
  );
}

function printPreview({ planned, counts }: ImportPreview, take: Take, dryRun: boolean): void {
  for (const one of planned) print(arrivalText(one, take));
  print(`${countsText(counts)}${dryRun ? ' Nothing was changed.' : ''}`);
}
