import { Argument, Command, type Option } from 'commander';
import type { ExitCode } from './exit-code.ts';
import { print } from './terminal.ts';

/** `ekkon completion SHELL`: prints a shell's completion for the commands and their options. */
export function completionCommand(done: (code: ExitCode) => void): Command {
  return new Command('completion')
    .description('print what your shell reads to complete ekkon')
    .addArgument(new Argument('<shell>', 'your shell').choices(Object.keys(shells)))
    .addHelpText('after', '\nExample: ekkon completion bash >> ~/.bashrc')
    .action((shell: keyof typeof shells, _options: object, command: Command) => {
      print(shells[shell](command.parent?.commands ?? []));
      done(0);
    });
}

const shells = {
  bash: forBash,
  zsh: (commands: readonly Command[]) =>
    `autoload -U +X compinit && compinit\nautoload -U +X bashcompinit && bashcompinit\n${forBash(commands)}`,
  fish: forFish,
} as const;

function forBash(commands: readonly Command[]): string {
  const names = commands.map((command) => command.name()).join(' ');
  const values = commands.flatMap((command) =>
    command.options.flatMap(({ long, argChoices }) =>
      argChoices === undefined
        ? []
        : [`    '${command.name()} ${long}') words='${argChoices.join(' ')}' ;;`],
    ),
  );
  const options = commands.map((command) => {
    const [argument] = command.registeredArguments;
    const flags = command.options.flatMap(({ long }) => long ?? []).join(' ');
    return `    ${command.name()}) flags='${flags} --help' words='${argument?.argChoices?.join(' ') ?? ''}' ;;`;
  });
  return `_ekkon() {
  local current=\${COMP_WORDS[COMP_CWORD]} before=\${COMP_WORDS[COMP_CWORD-1]} command=\${COMP_WORDS[1]}
  local words='' flags=''
  COMPREPLY=()
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W '${names} --help --version' -- "$current"))
    return
  fi
  case "$command" in
${options.join('\n')}
  esac
  case "$command $before" in
${values.join('\n')}
  esac
  if [[ $current == -* ]]; then words=$flags; fi
  if [ -n "$words" ]; then COMPREPLY=($(compgen -W "$words" -- "$current"))
  else COMPREPLY=($(compgen -f -- "$current")); fi
}
complete -o filenames -F _ekkon ekkon`;
}

function forFish(commands: readonly Command[]): string {
  const lines = commands.flatMap((command) => {
    const name = command.name();
    const when = `-n '__fish_seen_subcommand_from ${name}'`;
    const [argument] = command.registeredArguments;
    const choices = argument?.argChoices;
    return [
      `complete -c ekkon -n __fish_use_subcommand -f -a ${name} -d ${inFish(command.description())}`,
      ...(choices === undefined ? [] : [`complete -c ekkon ${when} -f -a '${choices.join(' ')}'`]),
      ...command.options.map((option) => `complete -c ekkon ${when} ${fishOption(option)}`),
    ];
  });
  return lines.join('\n');
}

function fishOption({ long, short, argChoices, required, description }: Option): string {
  const takes = argChoices === undefined ? ' -r' : ` -x -a '${argChoices.join(' ')}'`;
  const letter = short === undefined ? '' : ` -s ${short.slice(1)}`;
  return `-l ${(long ?? '').slice(2)}${letter}${required ? takes : ''} -d ${inFish(description)}`;
}

function inFish(text: string): string {
  return `'${text.replace(/[\\']/g, '\\$&')}'`;
}
