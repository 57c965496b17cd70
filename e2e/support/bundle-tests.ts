import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { root } from './app.ts';

/** Those that read the sources and documents of this repository, which a package does not hold. */
const OF_THE_REPOSITORY = [
  'core/1-ground/glossary.test.ts',
  'core/1-ground/schema/json-schema.test.ts',
  'core/6-exchange/api/published.test.ts',
  'engine/system/layer.test.ts',
];

/**
 * Test files of rooms in one file that an installed package can run: `node FILE` prints what came of them as JSON. The
 * package’s own libraries stay outside of it.
 * @param rooms folders of the repository
 */
export async function bundleTests(rooms: readonly string[], file: string): Promise<void> {
  const { dependencies } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as {
    dependencies: Record<string, string>;
  };
  const tests = rooms
    .flatMap((room) =>
      readdirSync(join(root, room), { recursive: true, encoding: 'utf8' }).map((name) => join(room, name)),
    )
    .filter((name) => name.endsWith('.test.ts') && !OF_THE_REPOSITORY.includes(name))
    .sort();
  const loads = tests.map((name) => `${JSON.stringify(name)}: () => import('./${name}')`).join(',');
  const contents = `
    import { runFile } from './e2e/support/tests-alone.ts';
    const all = { passed: 0, skipped: 0, failed: [] };
    for (const [name, load] of Object.entries({${loads}})) {
      const { passed, skipped, failed } = await runFile(name, load);
      all.passed += passed;
      all.skipped += skipped;
      all.failed.push(...failed);
    }
    console.log(JSON.stringify(all));
    process.exit(0);`;
  await build({
    absWorkingDir: root,
    stdin: { contents, resolveDir: root, loader: 'ts', sourcefile: 'tests.ts' },
    outfile: file,
    bundle: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    external: ['#built/*', ...Object.keys(dependencies).flatMap((name) => [name, `${name}/*`])],
    alias: { vitest: join(root, 'e2e/support/tests-alone.ts') },
    banner: {
      js: "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);",
    },
    logLevel: 'warning',
  });
}
