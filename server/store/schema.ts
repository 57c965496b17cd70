import {
  bigint,
  boolean,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  smallint,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { NO_DETAILS, type DriveDetails } from '#core/2-trade/drives/drive-details.ts';
import type { Connection } from '#core/2-trade/links/connection.ts';
import type { ProfileRun } from '#core/4-runs/supply/profile.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import type { ActiveRun, RunOpening, TokenScope } from '#core/6-exchange/api/wire.ts';
import type { RunDocument, RunState } from '#core/4-runs/run/run-document.ts';
import type { RunEvent } from '#core/4-runs/run/run-events.ts';
import type { Project } from '#core/5-answers/sizing/project.ts';
import type { ReportDocumentKind, ReportOutline } from '#core/6-exchange/report/report.ts';
import type { Settings } from '#core/6-exchange/archive/settings.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';

/** When a person changed it last; null where nobody did since that is kept. */
const changedAt = () => timestamp('changed_at', { withTimezone: true, mode: 'string' });

/** Drive cards. A drive is recognised by its identity and not by where it is mounted. */
export const drives = pgTable(
  'drives',
  {
    id: text().primaryKey(),
    label: text().notNull(),
    medium: text().$type<RunDocument['drive']['medium']>().notNull(),
    identityKind: text('identity_kind').$type<RunDocument['drive']['identity']['kind']>().notNull(),
    identityValue: text('identity_value').notNull(),
    capacityBytes: bigint('capacity_bytes', { mode: 'number' }).notNull(),
    details: jsonb().$type<DriveDetails>().notNull().default(NO_DETAILS),
    example: boolean().notNull().default(false),
    createdAt: timestamp('created_at', { withTimezone: true, mode: 'string' }).notNull(),
    changedAt: changedAt(),
  },
  (table) => [uniqueIndex('drives_identity').on(table.identityKind, table.identityValue)],
);

/** Machines that measure into this store, each by the data folder of its Tavrox. */
export const hosts = pgTable('hosts', {
  id: text().primaryKey(),
  /** As its system calls it. */
  name: text().notNull(),
  /** When it last said that it is there. */
  seenAt: timestamp('seen_at', { withTimezone: true, mode: 'string' }).notNull(),
  /** What goes on and waits there. */
  active: jsonb().$type<ActiveRun[]>().notNull().default([]),
});

/** What lets people and machines in from elsewhere. The token itself is kept nowhere: only its hash. */
export const tokens = pgTable('tokens', {
  id: text().primaryKey(),
  /** Whose it is, in the words of whoever made it. */
  name: text().notNull(),
  scope: text().$type<TokenScope>().notNull(),
  hash: text().notNull(),
  madeAt: timestamp('made_at', { withTimezone: true, mode: 'string' }).notNull(),
  usedAt: timestamp('used_at', { withTimezone: true, mode: 'string' }),
  revokedAt: timestamp('revoked_at', { withTimezone: true, mode: 'string' }),
});

export const runs = pgTable(
  'runs',
  {
    id: text().primaryKey(),
    /** Whose run it is while it goes on; null for what came whole, or before there were several. */
    hostId: text('host_id'),
    driveId: text('drive_id')
      .notNull()
      .references(() => drives.id, { onDelete: 'cascade' }),
    state: text().$type<RunState>().notNull(),
    startedAt: timestamp('started_at', { withTimezone: true, mode: 'string' }).notNull(),
    example: boolean().notNull().default(false),
    opening: jsonb().$type<RunOpening>().notNull(),
    /** Figures and doubts for lists, kept with the version of the analysis that made them. */
    summary: jsonb().$type<RunSummary>(),
    analysisVersion: integer('analysis_version'),
  },
  (table) => [index('runs_drive').on(table.driveId, table.startedAt), index('runs_started').on(table.startedAt)],
);

/** What runs add to the profile of their drive, worked out when somebody first asks; made anew by another analysis. */
export const runProfiles = pgTable('run_profiles', {
  runId: text('run_id')
    .primaryKey()
    .references(() => runs.id, { onDelete: 'cascade' }),
  analysisVersion: integer('analysis_version').notNull(),
  connection: jsonb().$type<Connection>().notNull(),
  adds: jsonb().$type<ProfileRun>().notNull(),
});

/** What a run told within about a second: samples in columns, everything else as events. */
export const runChunks = pgTable(
  'run_chunks',
  {
    runId: text('run_id')
      .notNull()
      .references(() => runs.id, { onDelete: 'cascade' }),
    sequence: integer().notNull(),
    atSeconds: doublePrecision('at_seconds').array().notNull(),
    cumulativeBytes: doublePrecision('cumulative_bytes').array().notNull(),
    /** 0 write, 1 read. */
    direction: smallint().array().notNull(),
    pass: integer().array().notNull(),
    file: integer().array().notNull(),
    operations: integer().array().notNull(),
    latencyMaxSeconds: doublePrecision('latency_max_seconds').array().notNull(),
    events: jsonb().$type<RunEvent[]>().notNull(),
  },
  (table) => [uniqueIndex('run_chunks_order').on(table.runId, table.sequence)],
);

/** Projects that storage is sized for. */
export const projects = pgTable('projects', {
  id: text().primaryKey(),
  example: boolean().notNull().default(false),
  document: jsonb().$type<Project>().notNull(),
  changedAt: changedAt(),
});

export const workloads = pgTable('workloads', {
  id: text().primaryKey(),
  position: integer().notNull(),
  example: boolean().notNull().default(false),
  document: jsonb().$type<Workload>().notNull(),
  changedAt: changedAt(),
});

/** Reports: what a person arranged and wrote of each. */
export const reports = pgTable('reports', {
  id: text().primaryKey(),
  example: boolean().notNull().default(false),
  outline: jsonb().$type<ReportOutline>().notNull(),
  /** Another whenever its documents are others: what was worked out from them holds until then. */
  revision: text().notNull(),
  changedAt: timestamp('changed_at', { withTimezone: true, mode: 'string' }).notNull(),
});

/** Settings of the workspace: one row, or none where nobody changed any. */
export const settings = pgTable('settings', {
  id: text().primaryKey(),
  document: jsonb().$type<Settings>().notNull(),
  changedAt: timestamp('changed_at', { withTimezone: true, mode: 'string' }).notNull(),
});

/** The documents that reports are drawn from, as they were when they were put in. */
export const reportDocuments = pgTable(
  'report_documents',
  {
    reportId: text('report_id')
      .notNull()
      .references(() => reports.id, { onDelete: 'cascade' }),
    kind: text().$type<ReportDocumentKind>().notNull(),
    documentId: text('document_id').notNull(),
    document: jsonb().notNull(),
  },
  (table) => [uniqueIndex('report_documents_one').on(table.reportId, table.kind, table.documentId)],
);
