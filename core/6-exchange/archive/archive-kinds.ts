/** Kinds of what a workspace holds, in the order in which they are taken in: runs belong to drives. */
export const ARCHIVE_KINDS = ['drive', 'run', 'workload', 'project', 'report', 'settings'] as const;
export type ArchiveKind = (typeof ARCHIVE_KINDS)[number];
