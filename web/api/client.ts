import type { NewDrive } from '#core/2-trade/drives/drive-line.ts';
import type {
  AgentAsk,
  AgentEntry,
  Annotation,
  AskEntry,
  BackupEntry,
  DriveCard,
  DriveChange,
  FolderList,
  HealthEntry,
  ImportPreview,
  PayloadMessage,
  KeptScratchEntry,
  LeftScratchEntry,
  RecordingState,
  ReportEntry,
  ReportPages,
  RunListEntry,
  RunningProgram,
  StartRequest,
  VerifyMessage,
  VolumeEntry,
} from '#core/6-exchange/api/wire.ts';
import type { Take } from '#core/6-exchange/archive/plan.ts';
import type { Workload } from '#core/3-jobs/demand/workload.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { Fault } from '#core/4-runs/stand-ins/faults.ts';
import type { Project } from '#core/5-answers/sizing/project.ts';
import type { Put } from '#core/6-exchange/report/put.ts';
import type { ReportOutline } from '#core/6-exchange/report/report.ts';
import type { Settings, SettingsChange } from '#core/6-exchange/archive/settings.ts';
import type { Profile } from '#core/4-runs/supply/profile.ts';
import { readFeed } from './feed.ts';
import { problemOf } from './problem-of.ts';
import { credentials } from './session.ts';

const TRIES = 3;
const AGAIN_MILLISECONDS = 200;

/** What only asks is asked again where the connection broke: a browser gives up all of them when a network comes or goes. */
async function fetchAgain(path: string, request: RequestInit): Promise<Response> {
  for (let tries = 1; ; tries += 1) {
    try {
      return await fetch(path, request);
    } catch (error) {
      if (request.method !== 'GET' || tries === TRIES) throw error;
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MILLISECONDS));
    }
  }
}

/** What the server answers. Every failure is a Problem with a sentence. */
async function ask(method: string, path: string, body?: unknown, mark?: string): Promise<Response> {
  const isFile = body instanceof Blob;
  let response: Response;
  try {
    response = await fetchAgain(`/api${path}`, {
      method,
      headers: {
        ...credentials(),
        ...(mark === undefined ? {} : { 'If-None-Match': mark }),
        ...(body === undefined ? {} : { 'Content-Type': isFile ? 'application/octet-stream' : 'application/json' }),
      },
      ...(body === undefined ? {} : { body: isFile ? body : JSON.stringify(body) }),
    });
  } catch (cause) {
    throw new Problem(
      'server-gone',
      'The Tavrox server does not answer. Start it again in its terminal; nothing on the drives is lost.',
      {
        status: 503,
        cause,
      },
    );
  }
  if (!response.ok && response.status !== 304) throw await problemOf(response);
  return response;
}

/** The only way in which the interface talks to the server. */
async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  const response = await ask(method, path, body);
  return response.status === 204 ? (undefined as T) : read<T>(response);
}

const read = <T>(response: Response): Promise<T> =>
  response.json().catch((cause: unknown) => {
    throw new Problem('answer-cut-off', 'The answer of the Tavrox server was cut off. Load the page again.', { cause });
  }) as Promise<T>;

/** Most documents that are held; the one asked for last stands last. */
const MOST_HELD = 24;
const held = new Map<string, { mark: string; document: unknown }>();

/**
 * What is large and seldom changes: it is sent again only when it did, and is the same object until then, so that what was
 * worked out from it holds as well.
 */
async function callUnlessHeld<T>(path: string): Promise<T> {
  const before = held.get(path);
  const response = await ask('GET', path, undefined, before?.mark);
  const document = response.status === 304 && before ? (before.document as T) : await read<T>(response);
  const mark = response.headers.get('ETag');
  held.delete(path);
  if (mark !== null) held.set(path, { mark, document });
  for (const one of held.keys()) if (held.size > MOST_HELD) held.delete(one);
  return document;
}

const id = encodeURIComponent;

export const api = {
  volumes: () => call<VolumeEntry[]>('GET', '/volumes'),
  folders: (volumeId: string, path: string) =>
    call<FolderList>('GET', `/volumes/${id(volumeId)}/folders?path=${id(path)}`),
  checkFolder: (volumeId: string, path: string, recipeId: string) =>
    call<{ path: string }>('GET', `/volumes/${id(volumeId)}/folder-check?path=${id(path)}&recipe=${id(recipeId)}`),
  changeVolume: (volumeId: string, usesAll: boolean) =>
    call<undefined>('PATCH', `/volumes/${id(volumeId)}`, { usesAll }),
  /** Files of a folder and their bytes, and how far the counting is. */
  folderPayload: (volumeId: string, path: string, onMessage: (message: PayloadMessage) => void, signal: AbortSignal) =>
    readFeed<PayloadMessage>(`/volumes/${id(volumeId)}/payload?path=${id(path)}`, onMessage, signal),
  /** Holds a folder against its hash lists, and tells how far it is. */
  verify: (volumeId: string, path: string, onMessage: (message: VerifyMessage) => void, signal: AbortSignal) =>
    readFeed<VerifyMessage>(`/volumes/${id(volumeId)}/verify?path=${id(path)}`, onMessage, signal),
  health: (volumeId: string) => call<HealthEntry>('GET', `/volumes/${id(volumeId)}/health`),
  setFaults: (standInId: string, faults: readonly Fault[]) =>
    call<object>('PUT', `/stand-ins/${id(standInId)}/faults`, { faults }),
  kept: () => call<KeptScratchEntry[]>('GET', '/kept'),
  backups: () => call<BackupEntry[]>('GET', '/backups'),
  sessions: () => call<{ browsers: number }>('GET', '/sessions'),
  agents: () => call<AgentEntry[]>('GET', '/agents'),
  askAgent: (agentId: string, ask: Omit<AgentAsk, 'id'>) => call<AskEntry>('POST', `/agents/${id(agentId)}/asks`, ask),
  endOtherSessions: () => call<undefined>('DELETE', '/sessions/others'),
  left: () => call<LeftScratchEntry[]>('GET', '/left'),
  removeLeft: (leftId: string) => call<undefined>('POST', `/left/${id(leftId)}/remove`, {}),
  forgetLeft: (leftId: string) => call<undefined>('DELETE', `/left/${id(leftId)}`),
  removeKept: (runId: string) => call<undefined>('DELETE', `/kept/${id(runId)}`),
  runs: () => call<RunListEntry[]>('GET', '/runs'),
  run: (runId: string) => call<RunDocument>('GET', `/runs/${id(runId)}`),
  startRun: (request: StartRequest) => call<{ id: string }>('POST', '/runs', request),
  stopRun: (runId: string) => call<object>('POST', `/runs/${id(runId)}/stop`, {}),
  pauseRun: (runId: string) => call<object>('POST', `/runs/${id(runId)}/pause`, {}),
  resumeRun: (runId: string) => call<object>('POST', `/runs/${id(runId)}/resume`, {}),
  annotateRun: (runId: string, change: Annotation) => call<object>('PATCH', `/runs/${id(runId)}`, change),
  deleteRun: (runId: string) => call<undefined>('DELETE', `/runs/${id(runId)}`),
  drives: () => call<DriveCard[]>('GET', '/drives'),
  addDrive: (drive: NewDrive) => call<DriveCard>('POST', '/drives', drive),
  joinDrives: (typedId: string, measuredId: string) =>
    call<DriveCard>('POST', `/drives/${id(typedId)}/join`, { with: measuredId }),
  deleteDrive: (driveId: string) => call<undefined>('DELETE', `/drives/${id(driveId)}`),
  changeDrive: (driveId: string, change: DriveChange) => call<undefined>('PATCH', `/drives/${id(driveId)}`, change),
  profiles: (driveId: string) => callUnlessHeld<Profile[]>(`/drives/${id(driveId)}/profiles`),
  workloads: () => call<Workload[]>('GET', '/workloads'),
  saveWorkload: (workload: Workload) => call<undefined>('PUT', `/workloads/${id(workload.id)}`, workload),
  deleteWorkload: (workloadId: string) => call<undefined>('DELETE', `/workloads/${id(workloadId)}`),
  orderWorkloads: (ids: readonly string[]) => call<undefined>('PUT', '/workload-order', { ids }),
  projects: () => call<Project[]>('GET', '/projects'),
  saveProject: (project: Project) => call<{ version: number }>('PUT', `/projects/${id(project.id)}`, project),
  deleteProject: (projectId: string) => call<undefined>('DELETE', `/projects/${id(projectId)}`),
  settings: () => call<Settings | null>('GET', '/settings'),
  changeSettings: (change: SettingsChange) => call<Settings>('PATCH', '/settings', change),
  reports: () => call<ReportEntry[]>('GET', '/reports'),
  beginReport: (date: string) => call<ReportEntry>('POST', '/reports', { date }),
  readReport: (name: string, base64: string) => call<ReportEntry>('POST', '/reports/read', { name, base64 }),
  saveReport: (outline: ReportOutline) => call<ReportEntry>('PUT', `/reports/${id(outline.id)}`, outline),
  deleteReport: (reportId: string) => call<undefined>('DELETE', `/reports/${id(reportId)}`),
  copyReport: (reportId: string) => call<ReportEntry>('POST', `/reports/${id(reportId)}/copy`, {}),
  renewReport: (reportId: string) => call<ReportEntry>('POST', `/reports/${id(reportId)}/renew`, {}),
  putIntoReport: (reportId: string, put: Put) => call<ReportEntry>('POST', `/reports/${id(reportId)}/parts`, put),
  reportPages: (reportId: string) => call<ReportPages>('GET', `/reports/${id(reportId)}/pages`),
  /** Sentences by id of part. */
  reportChanges: (reportId: string) => call<Record<string, string[]>>('GET', `/reports/${id(reportId)}/changes`),
  reportFile: async (reportId: string, form: string): Promise<Blob> =>
    (await ask('GET', `/reports/${id(reportId)}/file?form=${id(form)}`)).blob(),
  /** @param only kinds of documents, parted by commas; all where it is empty */
  exportArchive: async (only: string): Promise<Blob> =>
    (await ask('GET', `/archive${only === '' ? '' : `?only=${id(only)}`}`)).blob(),
  previewImport: (file: Blob, name: string, take: Take) =>
    call<ImportPreview>('POST', `/archive/preview?take=${take}&name=${id(name)}`, file),
  importFile: (file: Blob, name: string, take: Take) =>
    call<ImportPreview>('POST', `/archive?take=${take}&name=${id(name)}`, file),
  makeBackup: () => call<BackupEntry>('POST', '/backups', {}),
  restoreBackup: (name: string) =>
    call<{ documents: number; before: string | null }>('POST', `/backups/${id(name)}/restore`, {}),
  programs: () => call<RunningProgram[]>('GET', '/programs'),
  startRecording: (pid: number) => call<RecordingState>('POST', '/recordings', { pid }),
  recording: (recordingId: string, fromRow: number) =>
    call<RecordingState>('GET', `/recordings/${id(recordingId)}?from=${fromRow}`),
  stopRecording: (recordingId: string) => call<RecordingState>('POST', `/recordings/${id(recordingId)}/stop`, {}),
  examples: () => call<{ present: boolean }>('GET', '/examples'),
  removeExamples: () => call<undefined>('DELETE', '/examples'),
};
