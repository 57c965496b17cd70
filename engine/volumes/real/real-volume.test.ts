import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  rmSync,
  symlinkSync,
  truncateSync,
  writeFileSync,
  writeSync,
  closeSync,
  realpathSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RunEvent } from '#core/4-runs/run/run-events.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import type { RealVolumeInfo } from '#engine/volumes/real/real-volume-info.ts';
import { checkWritable, listFolders, nearestFolder, resolveFolder } from '#engine/volumes/real/folder.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import { realVolume } from '#engine/volumes/real/real-volume.ts';
import { transferStep } from '#engine/recipes/recipe.ts';
import { createPauseSwitch, type Session, type StepControl, type TransferStep } from '#engine/volumes/volume.ts';
import { system } from '#engine/system/this-system.ts';

const MIB = 1024 * 1024;
const onLinux = describe.skipIf(system.name !== 'Linux');
const never: StepControl = { signal: new AbortController().signal, pause: createPauseSwitch() };

let home: string;
let all: RealVolumeInfo[];
let info: RealVolumeInfo;
beforeEach(async () => {
  home = realpathSync(mkdtempSync(join(tmpdir(), 'volume-test-')));
  all = await discoverVolumes();
  info = mountOf(home, all)!;
});
afterEach(() => rmSync(home, { recursive: true, force: true }));

onLinux('folders on a volume', () => {
  it('are found through links and dots, and only on their own volume', () => {
    mkdirSync(join(home, 'day 1'));
    symlinkSync(join(home, 'day 1'), join(home, 'link'));
    expect(resolveFolder(join(home, 'link', '..', 'day 1'), info, all)).toBe(join(home, 'day 1'));
    symlinkSync('/proc/self', join(home, 'trap'));
    expect(() => resolveFolder(join(home, 'trap'), info, all)).toThrow(/not on the volume/);
  });

  it('that are none are refused by name', () => {
    writeFileSync(join(home, 'film.mov'), '');
    expect(() => resolveFolder(join(home, 'film.mov'), info, all)).toThrow(/is a file/);
    expect(() => resolveFolder(join(home, 'nowhere'), info, all)).toThrow(/does not exist/);
    expect(() => resolveFolder('relative', info, all)).toThrow(/not a full path/);
    expect(() => resolveFolder(`${home}\0/x`, info, all)).toThrow(/not a full path/);
  });

  it('are listed without files, links and hidden ones, in the order of their numbers', async () => {
    for (const name of ['reel 10', 'reel 9', '.trash']) mkdirSync(join(home, name));
    symlinkSync('/etc', join(home, 'etc'));
    writeFileSync(join(home, 'note.txt'), '');
    expect((await listFolders(home)).names).toEqual(['reel 9', 'reel 10']);
    expect(nearestFolder(join(home, 'reel 1'), info, all)).toBe(home);
  });

  it('on a read-only or full volume are refused with the reason', () => {
    expect(() => checkWritable(home, { ...info, readOnly: true })).toThrow(/mounted read-only/);
    expect(() => checkWritable(home, { ...info, freeBytes: 2.01e9 })).toThrow(
      /2\.01.GB free, and 2.GB of that is always left alone/,
    );
  });
});

onLinux('a session on a real folder', () => {
  let session: Session;
  let events: RunEvent[];
  const emit = (event: RunEvent) => events.push(event);
  const common = { pass: 1, bytes: 16 * MIB, blockBytes: MIB, depth: 2, sampleSeconds: 0.02 };
  const step = (more: Partial<TransferStep>): TransferStep =>
    transferStep({ ...common, direction: 'write', phase: 'overwriting', ...more });
  const read = (more: Partial<TransferStep> = {}) =>
    transferStep({ ...common, direction: 'read', phase: 'reading', ...more });
  const scratchFile = () =>
    join(
      home,
      readdirSync(home).find((name) => name.startsWith('tavrox-scratch-'))!,
      'data-0.bin',
    );
  const mismatches = () => events.flatMap((event) => (event.type === 'verified' ? event.mismatches : []));

  beforeEach(async () => {
    events = [];
    session = await realVolume(info, { all, journalFolder: join(home, 'journal') }).openSession({
      runId: 'unit',
      folder: home,
      readOnly: false,
      mayOnlyRead: false,
      readsFolder: false,
    });
    await session.execute({ kind: 'allot', bytes: 16 * MIB }, emit, never);
  });
  afterEach(() => session.close(false, emit));

  it('moves exactly the bytes asked for, tells of them in order, and leaves nothing', async () => {
    expect(await session.execute(step({}), emit, never)).toMatchObject({ bytes: 16 * MIB });
    expect(await session.execute(read(), emit, never)).toMatchObject({ bytes: 16 * MIB, flushSeconds: 0 });
    const rows = events.flatMap((event) => (event.type === 'samples' ? [event.samples] : []));
    for (const direction of ['write', 'read'] as const) {
      const own = rows.filter((row) => row.direction[0] === direction);
      expect(own[0]).toMatchObject({ cumulativeBytes: [0], operations: [0] });
      expect(own.at(-1)!.cumulativeBytes).toEqual([16 * MIB]);
      expect(own.reduce((sum, row) => sum + row.operations[0]!, 0)).toBe(16);
    }
    const times = rows.map((row) => row.atSeconds[0]!);
    expect(times).toEqual([...times].sort((a, b) => a - b));
    const requests = events.flatMap((event) => (event.type === 'latency' ? event.latency.counts.flat() : []));
    expect(requests.reduce((sum, count) => sum + count, 0)).toBe(32);
    expect(mismatches()).toEqual([]);
    await session.close(false, emit);
    expect(readdirSync(home)).toEqual(['journal']);
  });

  it('finds data that was changed behind its back, and where it came from', async () => {
    await session.execute(step({}), emit, never);
    const descriptor = openSync(scratchFile(), 'r+');
    writeSync(descriptor, Buffer.alloc(2 * MIB), 0, 2 * MIB, 4 * MIB);
    closeSync(descriptor);
    await session.execute(read(), emit, never);
    expect(mismatches().length).toBeGreaterThan(0);
    for (const { fileOffset, foundOffset } of mismatches()) {
      expect(fileOffset).toBeGreaterThanOrEqual(4 * MIB);
      expect(fileOffset).toBeLessThan(6 * MIB);
      expect(foundOffset).toBeNull();
    }
  });

  it('does not check what a stopped pass left half old and half new', async () => {
    await session.execute(step({}), emit, never);
    await session.execute(step({ pass: 2, bytes: 4 * MIB }), emit, never);
    await session.execute(read({ pass: 2 }), emit, never);
    expect(mismatches()).toEqual([]);
    await session.execute(read({ pass: 2, bytes: 4 * MIB }), emit, never);
    expect(events.filter((event) => event.type === 'verified').at(-1)).toMatchObject({ mismatches: [] });
  });

  it('stops when told to, with what it moved', async () => {
    const abort = new AbortController();
    abort.abort();
    const { bytes } = await session.execute(step({}), emit, { ...never, signal: abort.signal });
    expect(bytes).toBeLessThan(16 * MIB);
  });

  it('fails with a sentence when the file ends under it', async () => {
    await session.execute(step({}), emit, never);
    truncateSync(scratchFile(), 8 * MIB);
    await expect(session.execute(read(), emit, never)).rejects.toThrow(/file ended early while reading at byte \d+/);
    await session.close(false, emit);
    expect(existsSync(join(home, 'tavrox-scratch-unit'))).toBe(false);
  });
});
