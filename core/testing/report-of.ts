import { profileRunOf, type Profile } from '#core/4-runs/supply/profile.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import { buildCode } from '#core/5-answers/sizing/builds.ts';
import { newOutline } from '#core/6-exchange/report/put.ts';
import { REPORT_VERSION, type Report, type ReportPart } from '#core/6-exchange/report/report.ts';
import { runOf } from '#core/testing/run-of.ts';
import { shoot, sizingOf } from '#core/testing/sizing-of.ts';

const MB = 1e6;

/** Where a made run was made: all that must not leave when a report is for others. */
export const SECRETS = {
  mountPoint: '/media/anna.berg/ANNA SSD',
  folder: '/media/anna.berg/ANNA SSD/rushes/day 4',
  host: 'anna-workstation',
  serial: 'SN-44Z-9911',
  label: 'ANNA SSD',
  note: 'Borrowed from Jonas, locker 12',
  tag: 'for-jonas',
};

/** A run that writes steadily at a rate, made in a place that says much of its owner. */
export function steadyRun(id: string, megabytesPerSecond = 1000, seconds = 3000, driveId = 'd-petrel'): RunDocument {
  const run = runOf([{ direction: 'write', rates: Array.from({ length: seconds }, () => megabytesPerSecond * MB) }]);
  return {
    ...run,
    id,
    recipe: 'long-fill',
    startedAt: '2026-03-02T09:30:00.000Z',
    note: SECRETS.note,
    tags: [SECRETS.tag],
    drive: { id: driveId, label: 'Petrel 2T', medium: 'flash', identity: { kind: 'serial', value: SECRETS.serial } },
    volume: { ...run.volume, label: SECRETS.label, mountPoint: SECRETS.mountPoint, freeBytes: 4e12, totalBytes: 5e12 },
    conditions: { ...run.conditions, software: { ...run.conditions.software, host: SECRETS.host } },
    markers: [
      ...run.markers,
      {
        kind: 'skipped',
        atSeconds: 0,
        seconds: 0,
        direction: null,
        pass: null,
        phase: null,
        note: `2 files of ${SECRETS.folder} were passed over.`,
      },
    ],
  };
}

export const profileFrom = (run: RunDocument): Profile => ({
  tavrox: 'profile/1',
  drive: { id: run.drive.id, label: run.drive.label, medium: run.drive.medium },
  connection: run.connection,
  runs: [profileRunOf(run)],
});

const part = { remark: '', isLeftOut: false };

/** Three cameras for a night on a drive of 1,000 MB/s, and a build of a project. */
export function reportOf(more: Partial<Report> = {}): Report {
  const run = steadyRun('run-1');
  const sizing = sizingOf();
  const code = buildCode({
    drive: 0,
    count: 4,
    other: null,
    otherCount: 0,
    layout: 'single-parity',
    spares: 0,
    enclosure: 1,
    connection: 1,
  });
  const parts: ReportPart[] = [
    { kind: 'answer', id: 'p1', ...part, askedId: 'a1' },
    { kind: 'run', id: 'p2', ...part, runId: run.id },
    { kind: 'not-proven', id: 'p3', ...part, askedId: 'a1' },
    { kind: 'verdicts', id: 'p4', ...part, askedId: 'a1' },
    { kind: 'build', id: 'p5', ...part, projectId: 'film', store: 'working', code },
    { kind: 'conditions', id: 'p6', ...part },
  ];
  return {
    tavrox: REPORT_VERSION,
    ...newOutline('report-1', '2026-03-12'),
    asked: [
      {
        id: 'a1',
        question: 'Can the night shoot go to Petrel 2T?',
        workloadId: 'night',
        driveId: run.drive.id,
        headroomShare: 0.25,
        roomBytes: 4e12,
      },
    ],
    parts,
    documents: {
      runs: [run],
      profiles: [profileFrom(run)],
      workloads: [shoot()],
      sizings: [{ projectId: 'film', sizing }],
    },
    ...more,
  };
}
