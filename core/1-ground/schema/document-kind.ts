import { badInput } from '#core/1-ground/problem.ts';

/** What documents are called where people read. */
const NAMES: Record<string, string> = {
  run: 'a run',
  profile: 'a profile of a drive',
  workload: 'a workload',
  sizing: 'a sizing',
  recording: 'a recording',
  report: 'a report',
  project: 'a project',
  drive: 'a drive’s card',
  archive: 'the manifest of an archive',
  settings: 'settings',
};

/** The kind and version that a document says it is, as run/1; null where it says nothing. */
export function versionOf(input: unknown): string | null {
  const said = typeof input === 'object' && input !== null ? (input as { tavrox?: unknown }).tavrox : undefined;
  return typeof said === 'string' ? said.slice(0, 80) : null;
}

/** Its kind without the version; null where it is none of ours. */
export function kindOf(input: unknown): string | null {
  const kind = versionOf(input)?.split('/')[0] ?? '';
  return Object.hasOwn(NAMES, kind) ? kind : null;
}

function nameOf(version: string): string {
  const kind = version.split('/')[0]!;
  return Object.hasOwn(NAMES, kind) ? NAMES[kind]! : `“${version}”`;
}

/**
 * Whether a document is of the version that is wanted, before anything else of it is looked at.
 * @throws Problem `bad-input` that says what it is instead
 */
export function requireVersion(input: unknown, wanted: string, where: string): void {
  const said = versionOf(input);
  if (said === wanted) return;
  if (said === null) throw badInput(where, `${where}: this is no document of Tavrox, and not ${nameOf(wanted)}.`);
  const isOther = said.split('/')[0] !== wanted.split('/')[0];
  throw badInput(
    where,
    isOther
      ? `${where}: this is ${nameOf(said)}, and not ${nameOf(wanted)}.`
      : `${where}: this is ${nameOf(said)} of version ${said}; this Tavrox reads ${wanted}.`,
  );
}

/** A document as it leaves: with the name of its published schema, by which other programs know what it is. */
export const withSchema = <D extends { tavrox: string }>(document: D): D & { $schema: string } => ({
  $schema: `urn:tavrox:format:${document.tavrox}`,
  ...document,
});

/** What arrives, without that name: it is no part of what is kept. */
export function withoutSchema(input: unknown): unknown {
  if (typeof input !== 'object' || input === null || !('$schema' in input)) return input;
  const { $schema, ...document } = input;
  void $schema;
  return document;
}
