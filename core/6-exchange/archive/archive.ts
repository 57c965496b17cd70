import { array, boolean, number, object, string, type InferType } from 'yup';
import { ARCHIVE_KINDS, type ArchiveKind } from '#core/6-exchange/archive/archive-kinds.ts';
import { canonical } from '#core/1-ground/schema/canonical.ts';
import { requireVersion } from '#core/1-ground/schema/document-kind.ts';
import { parseDocument } from '#core/1-ground/schema/parse-document.ts';
import { driveDetailsSchema } from '#core/2-trade/drives/drive-details.ts';
import { WORKLOAD_VERSION, parseWorkload, type Workload } from '#core/3-jobs/demand/workload.ts';
import { IDENTITY_KINDS } from '#core/4-runs/run/drive-and-volume.ts';
import { MEDIA } from '#core/2-trade/drives/medium.ts';
import { RUN_DOCUMENT_VERSION, parseRunDocument, type RunDocument } from '#core/4-runs/run/run-document.ts';
import { projectSchema, type Project } from '#core/5-answers/sizing/project.ts';
import { SETTINGS_VERSION, settingsSchema, type Settings } from '#core/6-exchange/archive/settings.ts';
import { REPORT_VERSION, parseReport, type Report } from '#core/6-exchange/report/report.ts';

/**
 * An archive: a zip of published documents, each a file of its own, with a manifest that names them all and their
 * checksums. Others can read it with any zip program; the JSON Schema of the manifest is docs/formats/archive.schema.json.
 */
export const ARCHIVE_VERSION = 'archive/1';
export const MANIFEST_FILE = 'manifest.json';

/** A drive's card as a document. */
export const DRIVE_VERSION = 'drive/1';
export const driveDocumentSchema = object({
  tavrox: string()
    .oneOf([DRIVE_VERSION] as const)
    .required(),
  id: string().required().max(80),
  label: string().required().max(120),
  medium: string().oneOf(MEDIA).required(),
  identityKind: string().oneOf(IDENTITY_KINDS).required(),
  identityValue: string().required().max(400),
  capacityBytes: number().min(0).required(),
  details: driveDetailsSchema.required(),
  example: boolean().required(),
  createdAt: string().required().max(40),
});
export type DriveDocument = InferType<typeof driveDocumentSchema>;

/** A project as a document: its plan, and drives that came with it. */
export const PROJECT_VERSION = 'project/1';
export const projectDocumentSchema = projectSchema.shape({
  tavrox: string()
    .oneOf([PROJECT_VERSION] as const)
    .required(),
});
export type ProjectDocument = Project & { tavrox: typeof PROJECT_VERSION };

/** A document of an archive, by its kind. */
export type ArchiveDocument =
  | { kind: 'drive'; document: DriveDocument }
  | { kind: 'run'; document: RunDocument }
  | { kind: 'workload'; document: Workload }
  | { kind: 'project'; document: ProjectDocument }
  | { kind: 'report'; document: Report }
  | { kind: 'settings'; document: Settings };

export const manifestEntrySchema = object({
  /** Its place in the archive. */
  path: string().required().max(400),
  kind: string().oneOf(ARCHIVE_KINDS).required(),
  id: string().required().max(80),
  name: string().defined().max(400),
  bytes: number().integer().min(0).required(),
  /** Of the file, in hexadecimal digits. */
  sha256: string()
    .matches(/^[0-9a-f]{64}$/, 'sha256: is no checksum')
    .required(),
  /** When a person changed it last; null where that is not known. */
  changedAt: string().max(40).nullable().defined(),
});
export type ManifestEntry = InferType<typeof manifestEntrySchema>;

export const manifestSchema = object({
  tavrox: string()
    .oneOf([ARCHIVE_VERSION] as const)
    .required(),
  madeAt: string().required().max(40),
  software: string().required().max(80),
  entries: array(manifestEntrySchema.required()).max(200_000).required(),
});
export type Manifest = InferType<typeof manifestSchema>;

export function parseManifest(input: unknown, where: string): Manifest {
  requireVersion(input, ARCHIVE_VERSION, where);
  return parseDocument(manifestSchema, input, where);
}

const VERSIONS: Record<ArchiveKind, string> = {
  drive: DRIVE_VERSION,
  run: RUN_DOCUMENT_VERSION,
  workload: WORKLOAD_VERSION,
  project: PROJECT_VERSION,
  report: REPORT_VERSION,
  settings: SETTINGS_VERSION,
};

/**
 * A document of a kind from outside.
 * @throws Problem `bad-input` that names the first fault
 */
export function parseArchived(kind: ArchiveKind, input: unknown, where: string): ArchiveDocument {
  requireVersion(input, VERSIONS[kind], where);
  switch (kind) {
    case 'drive':
      return { kind, document: driveDocumentSchema.cast(parseDocument(driveDocumentSchema, input, where)) };
    case 'run':
      return { kind, document: parseRunDocument(input, where) };
    case 'workload':
      return { kind, document: parseWorkload(input) };
    case 'project':
      return {
        kind,
        document: projectDocumentSchema.cast(parseDocument(projectDocumentSchema, input, where)),
      };
    case 'report':
      return { kind, document: parseReport(input, where) };
    case 'settings':
      return { kind, document: parseDocument(settingsSchema, input, where) };
  }
}

/** What a document is called where people read. */
export function nameOfArchived({ kind, document }: ArchiveDocument): string {
  switch (kind) {
    case 'drive':
      return document.label;
    case 'run':
      return `${document.drive.label}, ${document.startedAt.slice(0, 16).replace('T', ' ')}`;
    case 'workload':
      return document.name;
    case 'project':
      return document.plan.name;
    case 'report':
      return document.title || (document.asked[0]?.question ?? 'Report');
    case 'settings':
      return 'of the workspace';
  }
}

/**
 * What a document holds apart from the names that it goes by here, with its fields in one order: two of the same
 * content are the same, wherever they came from.
 */
export function contentOf({ kind, document }: ArchiveDocument): string {
  const { id, example, ...rest } = document as { id: string; example?: boolean };
  void [id, example];
  if (kind === 'run') {
    // Its drive is known by its identity; the card's id is another on every machine.
    const { drive } = document;
    return canonical({ ...rest, drive: { ...drive, id: '' }, volume: { ...document.volume, id: '' } });
  }
  return canonical(rest);
}
