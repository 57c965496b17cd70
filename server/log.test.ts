import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { logFileOf, openLog, withoutPaths } from '#server/log.ts';

describe('the log', () => {
  let folder: string;
  let told: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'tavrox-log-'));
    told = '';
    vi.spyOn(process.stderr, 'write').mockImplementation((text) => {
      told += String(text);
      return true;
    });
  });
  afterEach(() => {
    vi.restoreAllMocks();
    rmSync(folder, { recursive: true, force: true });
  });

  const lines = () =>
    readFileSync(logFileOf(folder), 'utf8')
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Record<string, unknown>);

  it('holds what happened, for its user only, and tells what goes wrong on the terminal too', () => {
    const { log, close } = openLog(folder, 'info');
    log.debug('too much');
    log.info({ recipe: 'long-fill' }, 'run started');
    log.error(
      { err: Object.assign(new Error("cannot open '/home/ina/secret/day 1.mov'"), { code: 'EIO' }) },
      'not kept',
    );
    close();
    expect(lines()).toMatchObject([
      { level: 'info', msg: 'run started', recipe: 'long-fill' },
      { level: 'error', msg: 'not kept', err: { name: 'Error', code: 'EIO' } },
    ]);
    expect(statSync(logFileOf(folder)).mode & 0o777).toBe(0o600);
    expect(told).toMatch(/^not kept: cannot open '…'\n$/);
    expect(readFileSync(logFileOf(folder), 'utf8')).not.toMatch(/ina|secret|stack/);
  });

  it('holds paths and stacks where debug asks for them', () => {
    const { log, close } = openLog(folder, 'debug');
    log.error(
      { err: new Error('cannot open /home/ina/day.mov', { cause: new Error('/dev/sda1 is gone') }) },
      'not kept',
    );
    close();
    const [line] = lines();
    expect(line!['err']).toMatchObject({
      message: 'cannot open /home/ina/day.mov',
      cause: { message: '/dev/sda1 is gone' },
    });
    expect(JSON.stringify(line)).toContain('log.test.ts');
  });

  it('does not grow without bound', () => {
    const { log, close } = openLog(folder, 'info', 5000);
    for (let line = 0; line < 400; line += 1) log.info({ line }, 'run started');
    close();
    const files = readdirSync(dirname(logFileOf(folder)));
    expect(files.sort()).toEqual(['tavrox.earlier.log', 'tavrox.log']);
    for (const file of files) expect(statSync(join(folder, 'logs', file)).size).toBeLessThanOrEqual(5000);
    // The newest are kept, without a gap.
    const kept = files
      .flatMap((file) =>
        readFileSync(join(folder, 'logs', file), 'utf8')
          .trim()
          .split('\n'),
      )
      .map((line) => (JSON.parse(line) as { line: number }).line);
    expect(kept).toEqual(Array.from({ length: kept.length }, (_, index) => 400 - kept.length + index));
    // And it goes on where it left off.
    const again = openLog(folder, 'info', 5000);
    again.log.info({ line: 400 }, 'run started');
    again.close();
    expect(lines().at(-1)).toMatchObject({ line: 400 });
  });

  it('stops nobody where it cannot be written, and takes an unknown level for the usual one', () => {
    mkdirSync(join(folder, 'data'));
    writeFileSync(join(folder, 'data', 'logs'), 'a file where the folder should be');
    const { log, close } = openLog(join(folder, 'data'), 'loud');
    expect(log.level).toBe('info');
    expect(() => log.error('nothing to write to')).not.toThrow();
    close();
    expect(existsSync(join(folder, 'data', 'logs', 'tavrox.log'))).toBe(false);
    expect(told).toBe('nothing to write to\n');
  });

  it.each([
    ["ENOENT: no such file or directory, open '/mnt/a b/c.mov'", /^ENOENT: no such file or directory, open '…'$/],
    ['a lock in /mnt/day/1 was lost', /^a lock in … was lost$/],
    ['C:\\Users\\ina\\x.mov is gone', /^… is gone$/],
    ['40 MB/s are not 3/4 of it', /^40 MB\/s are not 3\/4 of it$/],
  ])('leaves paths out of “%s”', (message, expected) => {
    expect(withoutPaths(message)).toMatch(expected);
  });
});
