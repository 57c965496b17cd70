import type { Command } from 'commander';
import { badInput } from '#core/1-ground/problem.ts';

const SHELLS = ['bash', 'zsh', 'fish'] as const;

export function addCompletionCommand(program: Command): void {
  program
    .command('completion')
    .description('prints what lets a shell complete commands and flags')
    .argument('<shell>', SHELLS.join(', '))
    .action((shell: string) => {
      const known = SHELLS.find((one) => one === shell);
      if (!known) throw badInput('shell', `shell: “${shell}” is none of ${SHELLS.join(', ')}.`);
      process.stdout.write(completionFor(program, known));
    });
}

/** Commands with their flags, and whether a file comes after them. */
function wordsOf(
  program: Command,
): { name: string; description: string; flags: { long: string; description: string }[] }[] {
  return program.commands.map((command) => ({
    name: command.name(),
    description: command.description(),
    flags: [
      ...command.options.flatMap(({ long, description }) => (long ? [{ long, description }] : [])),
      { long: '--help', description: 'tells the flags of this command' },
    ],
  }));
}

/** A text as the word of a shell: nothing in it means anything. */
const quoted = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`;

/** What a shell reads to complete commands, their flags, and files after them. */
export function completionFor(program: Command, shell: (typeof SHELLS)[number]): string {
  const commands = wordsOf(program);
  const names = commands.map(({ name }) => name).join(' ');
  switch (shell) {
    case 'bash':
      return `# tavrox completion bash > /etc/bash_completion.d/tavrox
_tavrox() {
  local word="\${COMP_WORDS[COMP_CWORD]}"
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W ${quoted(names)} -- "$word"))
    return
  fi
  local flags=''
  case "\${COMP_WORDS[1]}" in
${commands.map(({ name, flags }) => `    ${name}) flags=${quoted(flags.map(({ long }) => long).join(' '))} ;;`).join('\n')}
  esac
  case "$word" in
    -*) COMPREPLY=($(compgen -W "$flags" -- "$word")) ;;
    *) COMPREPLY=($(compgen -f -- "$word")) ;;
  esac
}
complete -o filenames -F _tavrox tavrox
`;
    case 'zsh':
      return `#compdef tavrox
# tavrox completion zsh > a folder of your fpath, as _tavrox
_tavrox() {
  if (( CURRENT == 2 )); then
    local -a commands
    commands=(
${commands.map(({ name, description }) => `      ${quoted(`${name}:${description}`)}`).join('\n')}
    )
    _describe 'command' commands
    return
  fi
  case "$words[2]" in
${commands
  .map(
    ({ name, flags }) =>
      `    ${name}) _arguments ${flags.map(({ long, description }) => quoted(`${long}[${description.replaceAll(/[[\]:]/g, ' ')}]`)).join(' ')} '*:file:_files' ;;`,
  )
  .join('\n')}
  esac
}
_tavrox "$@"
`;
    case 'fish':
      return `# tavrox completion fish > ~/.config/fish/completions/tavrox.fish
${commands
  .flatMap(({ name, description, flags }) => [
    `complete -c tavrox -n __fish_use_subcommand -f -a ${name} -d ${quoted(description)}`,
    ...flags.map(
      ({ long, description: does }) =>
        `complete -c tavrox -n '__fish_seen_subcommand_from ${name}' -l ${long.slice(2)} -d ${quoted(does)}`,
    ),
  ])
  .join('\n')}
`;
  }
}
