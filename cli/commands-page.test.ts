import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { completionFor } from '#cli/commands/completion.ts';
import { commandsPage } from '#cli/commands-page.ts';
import { createProgram } from '#cli/program.ts';

const program = createProgram();
const names = program.commands.map((command) => command.name());

describe('the page on commands', () => {
  const page = commandsPage(program);

  it('is the one in docs', () => {
    expect(
      readFileSync(new URL('../docs/commands.md', import.meta.url), 'utf8'),
      'npm run formats writes it anew',
    ).toBe(page);
  });

  it('has an example of every command, of flags that it has', () => {
    for (const command of program.commands) {
      const examples = [...page.matchAll(/^tavrox (\S+)(.*)$/gm)].filter(([, name]) => name === command.name());
      expect(examples.length, command.name()).toBeGreaterThan(0);
      for (const [, , rest = ''] of examples) {
        const flags = [...rest.split(' -- ')[0]!.matchAll(/(?<=\s)--[\w-]+/g)].map(([flag]) => flag);
        const known = command.options.map(({ long }) => long);
        // Options of recipes are flags that the command itself does not list.
        if (command.name() !== 'measure') expect(known).toEqual(expect.arrayContaining(flags));
      }
    }
  });
});

describe('completion', () => {
  it.each(['bash', 'zsh', 'fish'] as const)('knows every command and its flags in %s, and is read by it', (shell) => {
    const text = completionFor(program, shell);
    for (const name of names) expect(text).toContain(name);
    expect(text).toContain(shell === 'fish' ? '-l dry-run' : '--dry-run');
    const path = [`/bin/${shell}`, `/usr/bin/${shell}`].find(existsSync);
    if (path) expect(spawnSync(path, ['-n'], { input: text, encoding: 'utf8' }).stderr).toBe('');
  });

  it.skipIf(!existsSync('/bin/bash'))('completes what is begun', () => {
    const complete = (...words: string[]) => {
      const script = `${completionFor(program, 'bash')}\nCOMP_WORDS=(${words.map((one) => `'${one}'`).join(' ')}); COMP_CWORD=${words.length - 1}; _tavrox; echo "\${COMPREPLY[@]}"`;
      return spawnSync('/bin/bash', ['-c', script], { encoding: 'utf8' }).stdout.trim().split(' ');
    };
    expect(complete('tavrox', 're')).toEqual(['record', 'report', 'restore']);
    expect(complete('tavrox', 'import', '--d')).toEqual(['--drive', '--dry-run', '--data']);
  });
});
