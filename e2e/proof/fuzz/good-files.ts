import { createHash } from 'node:crypto';
import { strToU8, zipSync } from 'fflate';
import { hashListXml } from '#core/5-answers/copies/hash-list.ts';
import { WORKLOAD_VERSION } from '#core/3-jobs/demand/workload.ts';
import { RECORDING_COLUMNS, RECORDING_VERSION, emptyRows, recordingCsv } from '#core/3-jobs/recording/recording.ts';
import { profileRunOf, profilesOf } from '#core/4-runs/supply/profile.ts';
import { CONTAINERS, madeClip } from '#core/testing/made-clips.ts';
import { runOf } from '#core/testing/run-of.ts';
import { reportOf } from '#core/testing/report-of.ts';
import { writtenReport } from '#server/reports/written.ts';
import { sizingOf } from '#core/testing/sizing-of.ts';
import { DEMO_WORKLOADS } from '#demo/workloads.ts';

const MB = 1e6;

/** One small good file of each kind that Tavrox reads, by name. */
export async function goodFiles(): Promise<Record<string, Uint8Array>> {
  const run = runOf([
    { direction: 'write', rates: [...Array<number>(20).fill(900 * MB), ...Array<number>(20).fill(300 * MB)] },
    { direction: 'read', rates: Array<number>(20).fill(1000 * MB) },
  ]);
  const [profile] = profilesOf({ id: 'own', label: 'Own drive', medium: 'flash' }, [
    { connection: run.connection, adds: profileRunOf(run) },
  ]);
  const rows = emptyRows();
  for (let second = 0; second < 8; second += 1)
    for (const name of RECORDING_COLUMNS) rows[name].push(name === 'seconds' ? second : second * 5e6);
  const at = '2026-01-02T03:04:05.000Z';
  const recording = { name: 'game', startedAt: at, processes: 1, rows };
  const trace = Array.from({ length: 60 }, (_, second) => `${second},${second * 500 * MB}`);
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
  const clip = {
    OTIO_SCHEMA: 'Clip.2',
    name: 'one',
    source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(0), duration: time(250) },
    active_media_reference_key: 'DEFAULT_MEDIA',
    media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: 'file:///reel/one%20a.mov' } },
  };
  const timeline = {
    OTIO_SCHEMA: 'Timeline.1',
    name: 'Edit',
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      children: [{ OTIO_SCHEMA: 'Track.1', name: 'V1', kind: 'Video', children: [clip] }],
    },
  };
  const json = (document: unknown) => JSON.stringify(document);
  const texts = {
    'trace.csv': `seconds,bytes\n${trace.join('\n')}\n`,
    'run.json': json(run),
    'profile.json': json(profile),
    'workload.json': json(DEMO_WORKLOADS[0]),
    'empty.workload.json': json({ tavrox: WORKLOAD_VERSION, id: 'w', name: 'w', note: '', example: false, items: [] }),
    'plan.sizing.json': json(sizingOf({ policy: { mostDrives: 6 } })),
    'recording.json': json({ tavrox: RECORDING_VERSION, id: 'r', ...recording }),
    'recording.csv': recordingCsv(recording),
    'edit.otio': json(timeline),
    'list.mhl': hashListXml({ createdAt: at, host: 'host', toolVersion: '1' }, [
      { path: 'a-0001.exr', bytes: 1000, modifiedAt: at, xxh64: '0'.repeat(16) },
    ]),
  };
  const clips = await Promise.all(
    CONTAINERS.map(async (container) => [
      `clip.${container}`,
      await madeClip(container, Array<number>(30).fill(400), 25),
    ]),
  );
  const report = reportOf();
  const [pdf, html] = [await writtenReport(report, 'pdf'), await writtenReport(report, 'html')];
  const workload = Buffer.from(json(DEMO_WORKLOADS[0]));
  const entry = {
    ...{ path: 'workloads/0001-w.json', kind: 'workload', id: DEMO_WORKLOADS[0]!.id, name: 'w', changedAt: null },
    bytes: workload.length,
    sha256: createHash('sha256').update(workload).digest('hex'),
  };
  const manifest = { tavrox: 'archive/1', madeAt: at, software: '1', entries: [entry] };
  const archive = zipSync({ 'manifest.json': strToU8(json(manifest)), [entry.path]: workload });
  return {
    'report.json': Buffer.from(json(report)),
    'report.html': html,
    'report.pdf': pdf,
    'archive.zip': archive,
    'log.csv': Buffer.from(`time;write mb/s\n${trace.map((_, row) => `${row};${500 + row}`).join('\n')}\n`),
    ...Object.fromEntries(Object.entries(texts).map(([name, text]) => [name, Buffer.from(text)])),
    ...(Object.fromEntries(clips) as Record<string, Uint8Array>),
  };
}
