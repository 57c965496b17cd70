import { unzipSync } from 'fflate';
import { Problem, badInput } from '#core/1-ground/problem.ts';
import { kindOf } from '#core/1-ground/schema/document-kind.ts';
import { readJson } from '#core/1-ground/schema/json-text.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import { ARCHIVE_KINDS } from '#core/6-exchange/archive/archive-kinds.ts';
import {
  MANIFEST_FILE,
  nameOfArchived,
  parseArchived,
  parseManifest,
  type ArchiveDocument,
} from '#core/6-exchange/archive/archive.ts';
import type { Arrived } from '#core/6-exchange/archive/plan.ts';
import { checksumOf, sha256Of } from '#server/archive/checksum.ts';
import { readReport } from '#server/reports/read-back.ts';

/** A document that came from elsewhere, checked. */
export type Incoming = ArchiveDocument & { arrived: Arrived };

/** What an archive may become, and one file of it: beyond that it is no workspace. */
const MOST_BYTES = 2e9;
const MOST_FILE_BYTES = 500e6;
const MOST_FILES = 200_000;
/** As our archives name their files, and nothing else: nothing of an archive is ever written to a path that it names. */
const OUR_PATH = /^(?:manifest\.json|(?:drives|runs|workloads|projects|reports|settings)\/[\w-]{1,80}\.json)$/;

/**
 * What is in a file that somebody wants to take in: an archive, a report in any of its forms, or a single document.
 * @param name of the file, for sentences
 * @throws Problem `bad-input`; nothing is taken of a file that is at fault anywhere
 */
export function readIncoming(bytes: Uint8Array, name: string): Incoming[] {
  const head = Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.byteLength, 512)).toString('latin1');
  if (head.startsWith('PK')) return readArchive(bytes, name);
  if (head.startsWith('%PDF-') || head.trimStart().startsWith('<')) {
    return [incoming({ kind: 'report', document: readReport(bytes, name) }, null)];
  }
  const document = readJson(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('utf8'), name);
  const kind = kindOf(document);
  const known = ARCHIVE_KINDS.find((one) => one === kind);
  if (known) return [incoming(parseArchived(known, document, name), null)];
  throw badInput(name, `${name}: ${ELSEWHERE[kind ?? ''] ?? 'this is no document of Tavrox.'}`);
}

/** Documents that have a place of their own to be opened in. */
const ELSEWHERE: Record<string, string> = {
  profile:
    'this is a profile of a drive. It follows from runs: import those, or hold a workload against it with “tavrox fit --profile”.',
  sizing: 'this is a sizing. Open it in Sizing, under the name of the project.',
  recording: 'this is a recording of a program. Open it in Workloads, where a load is added.',
  archive: 'this is the manifest of an archive. Choose the archive itself, which is a zip.',
};

function incoming(one: ArchiveDocument, changedAt: string | null): Incoming {
  const { kind, document } = one;
  return { ...one, arrived: { kind, id: document.id, name: nameOfArchived(one), content: checksumOf(one), changedAt } };
}

function readArchive(bytes: Uint8Array, name: string): Incoming[] {
  const fault = (what: string) => badInput(name, `${name}: ${what}`);
  const files = unzipped(bytes, fault);
  const text = (path: string) => Buffer.from(files[path]!).toString('utf8');
  if (!files[MANIFEST_FILE]) throw fault('this zip has no manifest.json. It is no archive of Tavrox.');
  const { entries } = parseManifest(
    readJson(text(MANIFEST_FILE), `${name}: ${MANIFEST_FILE}`),
    `${name}: ${MANIFEST_FILE}`,
  );
  const named = new Set(entries.map(({ path }) => path));
  const foreign = Object.keys(files).find((path) => path !== MANIFEST_FILE && !named.has(path));
  if (foreign !== undefined) throw fault(`it holds ${foreign}, which its manifest does not name.`);
  if (named.size < entries.length) throw fault('its manifest names a file twice.');
  return entries.map(({ path, kind, id, bytes: length, sha256, changedAt }) => {
    const file = files[path];
    if (!file) throw fault(`${path} is missing.`);
    if (file.length !== length || sha256Of(file) !== sha256) {
      throw fault(`${path} is not as its manifest says: it was damaged or changed. Ask for the archive again.`);
    }
    const one = parseArchived(kind, readJson(text(path), `${name}: ${path}`), `${name}: ${path}`);
    if (one.document.id !== id) throw fault(`${path} has another id than its manifest says.`);
    return incoming(one, changedAt);
  });
}

function unzipped(bytes: Uint8Array, fault: (what: string) => Error): Record<string, Uint8Array> {
  let [files, total] = [0, 0];
  const refuse = (what: string): never => {
    throw fault(what);
  };
  try {
    return unzipSync(bytes, {
      // Looked at before anything is unpacked: a small file can become anything.
      filter({ name: path, originalSize }) {
        files += 1;
        total += originalSize;
        if (files > MOST_FILES) refuse(`it holds more than ${MOST_FILES.toLocaleString('en')} files.`);
        if (!OUR_PATH.test(path)) refuse(`it holds “${path.slice(0, 80)}”, which is none of our files.`);
        if (originalSize > MOST_FILE_BYTES) refuse(`${path} would become larger than ${bytesText(MOST_FILE_BYTES)}.`);
        if (total > MOST_BYTES) refuse(`unpacked it would be larger than ${bytesText(MOST_BYTES)}.`);
        return true;
      },
    });
  } catch (error) {
    if (error instanceof Problem) throw error;
    return refuse('this zip is damaged, or not whole.');
  }
}
