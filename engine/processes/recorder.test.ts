import { spawn } from 'node:child_process';
import { closeSync, fsyncSync, mkdtempSync, openSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { recordingTotals } from '#core/3-jobs/recording/recording.ts';
import { treeOf } from '#engine/processes/counters.ts';
import { parseCounters } from '#engine/system/linux/processes.ts';
import { system } from '#engine/system/this-system.ts';
import { createRecordings, recordablePrograms } from '#engine/processes/recordings.ts';
import { recordCommand, recordProcess } from '#engine/processes/recorder.ts';

const MB = 1e6;

describe('the system’s counters', () => {
  it('are read from its texts, whatever the program is called', () => {
    const io =
      'rchar: 1000\nwchar: 2000\nsyscr: 3\nsyscw: 4\nread_bytes: 4096\nwrite_bytes: 8192\ncancelled_write_bytes: 4096\n';
    const stat = '42 (a) b (c) S 1 42 42 0 -1 0 0 0 0 0 150 50 30 20 20 0 1 0 77 0 0';
    expect(parseCounters(io, stat)).toEqual({
      readBytes: 4096,
      writtenBytes: 4096,
      askedReadBytes: 1000,
      askedWrittenBytes: 2000,
      readCalls: 3,
      writeCalls: 4,
      processorSeconds: 2.5,
    });
  });

  it('are those of a process and everything it started', () => {
    const entry = (pid: number, parent: number) => ({ pid, parent, name: '', command: '', mark: '' });
    const tree = treeOf(2, [entry(2, 1), entry(3, 2), entry(4, 3), entry(5, 1), entry(6, 2)]);
    expect(tree.sort()).toEqual([2, 3, 4, 6]);
    // A process that is its own parent, as the first one is, ends the search.
    expect(treeOf(1, [entry(1, 1)])).toEqual([1]);
  });
});

describe.skipIf(system.programs === null)('a real program', () => {
  let folder: string;
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'tavrox-record-'));
    const descriptor = openSync(join(folder, 'data.bin'), 'w');
    for (let part = 0; part < 40; part += 1) writeFileSync(descriptor, Buffer.alloc(MB, part + 1));
    fsyncSync(descriptor);
    closeSync(descriptor);
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  /** A program that reads the file so often, in calls of 1 MB, and writes 30 MB. */
  const program = (times: number, before = '') => `
    const fs = require('node:fs');
    ${before}
    const buffer = Buffer.alloc(${MB});
    for (let time = 0; time < ${times}; time += 1) {
      const descriptor = fs.openSync(${JSON.stringify(join('FOLDER', 'data.bin'))}, 'r');
      while (fs.readSync(descriptor, buffer, 0, buffer.length, null) > 0);
      fs.closeSync(descriptor);
    }
    const out = fs.openSync(${JSON.stringify(join('FOLDER', 'out.bin'))}, 'w');
    for (let part = 0; part < 30; part += 1) fs.writeSync(out, buffer);
    fs.fsyncSync(out);`;
  const script = (times: number, before = '') => program(times, before).replaceAll('FOLDER', folder);

  it('has its bytes and calls counted within 2 % from start to end', async () => {
    const run = recordCommand(process.execPath, ['-e', script(5)]);
    const { code, seconds } = await run.outcome;
    expect(code).toBe(0);
    const totals = recordingTotals(run.recording.rows);
    // Starting the program itself reads some, too: less than 2 % of these 200 MB.
    expect(totals.askedReadBytes / (200 * MB)).toBeGreaterThan(0.999);
    expect(totals.askedReadBytes / (200 * MB)).toBeLessThan(1.02);
    expect(totals.askedWrittenBytes / (30 * MB)).toBeGreaterThan(0.999);
    expect(totals.askedWrittenBytes / (30 * MB)).toBeLessThan(1.02);
    // A memory disk has no device that anything would reach.
    if (totals.writtenBytes > 0) expect(totals.writtenBytes / (30 * MB)).toBeCloseTo(1, 1);
    expect(totals.processorSeconds).toBeGreaterThan(0);
    expect(totals.seconds).toBeGreaterThan(0.9 * seconds);
  });

  it('is counted with what it starts', async () => {
    const child = `require('node:child_process').execFileSync(process.execPath, ['-e', ${JSON.stringify(script(4))}]);`;
    const run = recordCommand(process.execPath, ['-e', child]);
    await run.outcome;
    const totals = recordingTotals(run.recording.rows);
    expect(totals.askedReadBytes / (160 * MB)).toBeGreaterThan(0.999);
    expect(totals.askedReadBytes / (160 * MB)).toBeLessThan(1.03);
  });

  it('may be joined while it runs, and counts from then on until it ends', async () => {
    const waiting = `process.stdin.once('data', () => { ${script(3)}; process.exit(0); }); console.log('ready');`;
    const child = spawn(process.execPath, ['-e', waiting], { stdio: ['pipe', 'pipe', 'inherit'] });
    await new Promise((resolve) => child.stdout.once('data', resolve));
    const recorder = recordProcess(child.pid!);
    expect(recorder.recording.name).toMatch(/node/);
    child.stdin.write('go\n');
    await recorder.ended;
    expect(recorder.isGoing).toBe(false);
    const { askedReadBytes } = recordingTotals(recorder.recording.rows);
    // What happens between the last look and the end is not seen.
    expect(askedReadBytes / (120 * MB)).toBeLessThan(1.02);
    expect(recorder.recording.rows.seconds.length).toBeGreaterThan(0);
  });

  it('that is not there, or of which there are too many, is refused with a sentence', () => {
    expect(() => recordProcess(2 ** 22 + 1)).toThrow(/There is no process/);
    const recordings = createRecordings();
    const all = Array.from({ length: 4 }, () => recordings.start(process.pid));
    expect(() => recordings.start(process.pid)).toThrow(/recorded already/);
    all[0]!.stop();
    const next = recordings.start(process.pid);
    expect(recordings.list()).toHaveLength(5);
    recordings.remove(next.recording.id);
    expect(() => recordings.find(next.recording.id)).toThrow(/no such recording/);
    recordings.close();
    expect(recordings.list().some(({ isGoing }) => isGoing)).toBe(false);
  });

  it('is listed with what it moved, those that moved most first', () => {
    const programs = recordablePrograms();
    const moved = programs.map(({ readBytes, writtenBytes }) => readBytes + writtenBytes);
    expect(moved).toEqual([...moved].sort((a, b) => b - a));
    expect(programs.map(({ pid }) => pid)).not.toContain(process.pid);
    expect(programs.length).toBeGreaterThan(0);
  });

  it('that cannot be started says so by its exit', async () => {
    const { code } = await recordCommand('/no/such/command', []).outcome;
    expect(code).toBe(127);
  });
});
