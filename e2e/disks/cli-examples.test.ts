import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { removeFolder, root, temporaryFolder } from '../support/app.ts';
import { tavrox } from '../support/cli.ts';

/** The examples of docs/commands.md, as a reader types them. */
const EXAMPLES = [...readFileSync(join(root, 'docs', 'commands.md'), 'utf8').matchAll(/^tavrox (.+)$/gm)].map(
  ([, line]) => line!,
);
/** Words of a command line; what stands between quotes is one. */
const words = (line: string): string[] =>
  [...line.matchAll(/"([^"]*)"|(\S+)/g)].map(([, quoted, plain]) => quoted ?? plain!);

const DRIVE = '20 TB spinning, 265 MB/s, 12 ms, SATA';

describe('what the page on commands shows', () => {
  let folder: string;
  beforeAll(() => (folder = temporaryFolder('examples')));
  afterAll(() => removeFolder(folder));

  const answered = EXAMPLES.filter((line) => line.startsWith('check ') && !/--file|--workload/.test(line));
  it.each(answered)('%s is answered, on a drive that is typed in place of the folder', async (line) => {
    const [command, path, ...rest] = words(line);
    const { code, stdout, stderr } = await tavrox(folder, command!, path!.startsWith('/') ? DRIVE : path!, ...rest);
    expect([0, 3, 4], stderr).toContain(code);
    expect(stdout).toMatch(/^Can .*\?$/m);
  });

  it.each(EXAMPLES.filter((line) => /^(?:drive add "|rate |size --)/.test(line)))(
    '%s does what it says',
    async (line) => {
      const { code, stderr } = await tavrox(folder, ...words(line));
      expect(code, stderr).toBe(0);
    },
  );

  it('has some of each', () => {
    expect(answered.length).toBeGreaterThan(6);
    expect(EXAMPLES.length).toBeGreaterThan(30);
  });
});
