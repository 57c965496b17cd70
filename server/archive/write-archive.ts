import { withSchema } from '#core/1-ground/schema/document-kind.ts';
import { AsyncZipDeflate, Zip } from 'fflate';
import type { ArchiveKind } from '#core/6-exchange/archive/archive-kinds.ts';
import {
  ARCHIVE_VERSION,
  MANIFEST_FILE,
  nameOfArchived,
  type Manifest,
  type ManifestEntry,
} from '#core/6-exchange/archive/archive.ts';
import { sha256Of } from '#server/archive/checksum.ts';
import { collected } from '#server/archive/collect.ts';
import { SOFTWARE_VERSION } from '#engine/software.ts';
import type { Database } from '#server/store/database.ts';

const FOLDERS: Record<ArchiveKind, string> = {
  drive: 'drives',
  run: 'runs',
  workload: 'workloads',
  project: 'projects',
  report: 'reports',
  settings: 'settings',
};

/** A name that every filesystem takes: ids may come from anywhere. */
const fileName = (id: string, number: number): string =>
  `${String(number).padStart(4, '0')}-${id.replaceAll(/[^\w-]/g, '_').slice(0, 60)}.json`;

/**
 * Writes documents of a workspace as one archive, each packed in a thread of its own; the manifest comes last, when all
 * checksums are known.
 * @param write takes the archive as it grows, and answers when it has room for more
 */
export async function writeArchive(
  db: Database,
  ids: Record<ArchiveKind, readonly string[]>,
  write: (part: Uint8Array) => Promise<void>,
  madeAt = new Date(),
): Promise<Manifest> {
  let failed: Error | null = null;
  let writing: Promise<unknown> = Promise.resolve();
  let done: () => void = () => undefined;
  const ended = new Promise<void>((resolve) => (done = resolve));
  const zip = new Zip((error, part, isLast) => {
    if (error) failed ??= error;
    writing = writing.then(() => write(part)).catch((cause: unknown) => (failed ??= cause as Error));
    if (error || isLast) done();
  });
  const add = (path: string, bytes: Uint8Array): void => {
    const file = new AsyncZipDeflate(path, { level: 6 });
    file.mtime = madeAt;
    zip.add(file);
    file.push(bytes, true);
  };
  const entries: ManifestEntry[] = [];
  for await (const one of collected(db, ids)) {
    if (failed) throw failed as Error;
    const bytes = Buffer.from(JSON.stringify(withSchema(one.document)));
    const { id } = one.document;
    const path = `${FOLDERS[one.kind]}/${fileName(id, entries.length + 1)}`;
    const sha256 = sha256Of(bytes);
    entries.push({
      path,
      kind: one.kind,
      id,
      name: nameOfArchived(one),
      bytes: bytes.length,
      sha256,
      changedAt: one.changedAt,
    });
    add(path, bytes);
    await writing;
  }
  const manifest: Manifest = {
    tavrox: ARCHIVE_VERSION,
    madeAt: madeAt.toISOString(),
    software: SOFTWARE_VERSION,
    entries,
  };
  add(MANIFEST_FILE, Buffer.from(JSON.stringify(withSchema(manifest), null, 2)));
  zip.end();
  await ended;
  await writing;
  if (failed) throw failed as Error;
  return manifest;
}
