import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import type { RunSummary } from '#core/4-runs/supply/run-summary.ts';
import { system } from '#engine/system/this-system.ts';
import { root } from './app.ts';
import { canThrottle, makeBlockDevice, makeThrottle, whyNot } from './block-device.ts';

/** Whether this machine can hold a device to a rate: root on Linux, a loop device, and the block-I/O controller. */
export const canHold = whyNot('ext4') === undefined && canThrottle();

/** What `tavrox check --json` prints. */
export interface Checked {
  verdict: string;
  sentence: string;
  breaksAtSeconds: number | null;
  bytesMoved: number;
  seconds: number;
  run: { id: string } | null;
}

/** A block device in memory that the kernel holds to a rate, and the command line measuring on it. */
export function makeThrottledDevice(name: string) {
  const folder = mkdtempSync(`/dev/shm/tavrox-${name}-`);
  const device = makeBlockDevice('ext4', folder, 5600);
  const throttle = makeThrottle(`tavrox-${name}-${process.pid}`);
  return {
    folder,
    device,
    mountPoint: device.mountPoint,
    image: join(folder, 'ext4.img'),
    limit: (bytesPerSecond: number) => throttle.setLimit(device.deviceNumber, bytesPerSecond),
    /** Puts a process under the limits. */
    hold: (pid: number) => throttle.add(pid),
    /** Holds another device for what is measured from here too. */
    limitOther: (deviceNumber: string, bytesPerSecond: number) => throttle.setLimit(deviceNumber, bytesPerSecond),
    /** Bytes that reached the device so far. */
    writtenBytes: () => system.diskBytes(device.deviceNumber)!.writeBytes,
    readBytes: () => system.diskBytes(device.deviceNumber)!.readBytes,
    /** Measures with the process under the limits from its first instruction on; a failed run is a run too. */
    measure: (...args: string[]) => command<RunDocument & RunSummary>('measure', ...args),
    /** Asks a question of the device. */
    check: (...args: string[]) => command<Checked>('check', ...args),
    remove() {
      throttle.remove();
      device.remove();
      rmSync(folder, { recursive: true, force: true });
    },
  };

  function command<Result>(name: string, ...args: string[]): Promise<Result> {
    return new Promise((resolve, reject) => {
      const child = spawn(
        '/bin/sh',
        ['-c', 'read go; exec "$0" bin/tavrox.js "$@"', process.execPath, name, device.mountPoint, '--json', ...args],
        {
          cwd: root,
          env: { ...process.env, TAVROX_DATA: join(folder, 'data'), TAVROX_LOCKS: join(folder, 'locks') },
          stdio: ['pipe', 'pipe', 'pipe'],
        },
      );
      throttle.add(child.pid!);
      child.stdin.end('go\n');
      let output = '';
      let faults = '';
      child.stdout.on('data', (text: Buffer) => (output += text.toString()));
      child.stderr.on('data', (text: Buffer) => (faults += text.toString()));
      child.once('exit', (code) =>
        output === '' ? reject(new Error(`ended with ${code}: ${faults}`)) : resolve(JSON.parse(output) as Result),
      );
    });
  }
}
