import { closeSync, fsyncSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import type { RunEvent, WatchRow } from '#core/4-runs/run/run-events.ts';
import { discoverVolumes } from '#engine/volumes/real/discovery.ts';
import { mountOf } from '#engine/system/filesystems.ts';
import { UNKNOWN_DEVICE } from '#engine/system/system.ts';
import { system } from '#engine/system/this-system.ts';
import { startWatching } from '#engine/watch/watcher.ts';

describe.skipIf(system.name !== 'Linux')('other traffic on the device', () => {
  const folder = mkdtempSync(join(tmpdir(), 'watch-test-'));
  let stop: (() => void) | undefined;
  afterEach(() => {
    stop?.();
    rmSync(folder, { recursive: true, force: true });
  });

  it('is what the device moved and we did not', async () => {
    const volume = mountOf(folder, await discoverVolumes())!;
    const { diskNumber } = volume.device;
    // On a memory disk no device moves anything: there is nothing to watch.
    if (system.diskBytes(diskNumber) === null) return expect(diskNumber).toBeNull();
    const bytes = 48e6;
    const begun = performance.now();
    const rows: WatchRow[] = [];
    stop = startWatching(
      {
        device: { ...UNKNOWN_DEVICE, diskNumber },
        ownBytes: () => 0,
        nowSeconds: () => (performance.now() - begun) / 1000,
      },
      (event) => event.type === 'watch' && rows.push(event.row),
    );
    const descriptor = openSync(join(folder, 'foreign.bin'), 'w');
    writeSync(descriptor, Buffer.alloc(bytes, 7));
    fsyncSync(descriptor);
    closeSync(descriptor);
    await expect.poll(() => rows.length, { timeout: 100_000 }).toBeGreaterThanOrEqual(2);
    const moved = rows.reduce(
      (sum, row, index) => sum + row.foreignBytesPerSecond! * (row.atSeconds - (rows[index - 1]?.atSeconds ?? 0)),
      0,
    );
    expect(moved).toBeGreaterThan(0.95 * bytes);
    expect(rows[0]).toMatchObject({ temperatureCelsius: null });
    expect(rows[0]!.processorShare).toBeGreaterThan(0);
  });
});

describe('clocks that part', () => {
  /** The first marker when each reading comes later by so much by the wall, and since the start of the machine. */
  async function markerWith(wallSeconds: number, bootSeconds: number | null) {
    const events: RunEvent[] = [];
    let [readings, own] = [0, 0];
    const stop = startWatching(
      {
        device: UNKNOWN_DEVICE,
        ownBytes: () => 0,
        nowSeconds: () => (own += 1),
        wallClock: () => 1000 * wallSeconds * (readings += 1),
        bootClock: () => bootSeconds && bootSeconds * own,
      },
      (event) => events.push(event),
    );
    await expect.poll(() => events.length).toBeGreaterThanOrEqual(1);
    stop();
    return events[0]!.type === 'marker' ? events[0].marker : null;
  }

  it('mean that the machine slept, where its own clock ran on', async () => {
    expect(await markerWith(60, 60)).toMatchObject({ kind: 'sleep', seconds: 59 });
    // Where nothing but the wall clock tells.
    expect(await markerWith(60, null)).toMatchObject({ kind: 'sleep', seconds: 59 });
  });

  it('mean that the clock was set, where it did not', async () => {
    expect(await markerWith(3601, 1)).toMatchObject({
      kind: 'clock-set',
      note: expect.stringMatching(/set on by 1.h/) as string,
    });
    expect(await markerWith(-3599, 1)).toMatchObject({
      kind: 'clock-set',
      note: expect.stringMatching(/set back by 1.h/) as string,
    });
  });

  it('by nothing mean nothing', async () => {
    expect(await markerWith(1, 1)).toBeNull();
  });
});
