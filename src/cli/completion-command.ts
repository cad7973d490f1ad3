import { Command, Option } from 'commander';
import { printable } from '../render/style.js';
import { candidatesFor, SHELLS } from './completing.js';
import { STATUS } from './status.js';
import type { Terminal } from './terminal.js';

/** What each shell reads at its start: it asks the program for what may stand next. */
const SCRIPTS = {
  bash: `_cavrin() {
  local cur=\${COMP_WORDS[COMP_CWORD]} line name
  COMPREPLY=()
  while IFS= read -r line; do
    name=\${line%%$'\\t'*}
    case $cur in
      \\"*)
        name=\${name//\\\\/\\\\\\\\}
        name=\${name//\\$/\\\\$}
        name=\${name//\\\`/\\\\\\\`}
        name=\${name//\\"/\\\\\\"}
        name='"'\${name//!/\\"\\'!\\'\\"} ;;
      \\'*) name="'"\${name//\\'/\\'\\\\\\'\\'} ;;
      *) printf -v name %q "$name" ;;
    esac
    COMPREPLY+=("$name")
  done < <(cavrin completion --next -- "\${COMP_WORDS[@]:1:COMP_CWORD}" 2>/dev/null)
}
complete -o default -F _cavrin cavrin
`,
  zsh: `#compdef cavrin
_cavrin() {
  local line
  local -a names shown
  while IFS= read -r line; do
    names+=("\${line%%$'\\t'*}")
    shown+=("\${line/$'\\t'/  }")
  done < <(cavrin completion --next -- "\${(@)words[2,CURRENT]}" 2>/dev/null)
  if (( \${#names} )); then compadd -l -d shown -a names; else _files; fi
}
compdef _cavrin cavrin
`,
  fish: `function __cavrin_next
  set -l words (commandline -opc) (commandline -ct)
  cavrin completion --next -- $words[2..] 2>/dev/null
end
complete -c cavrin -a '(__cavrin_next)'
`,
} as const satisfies Readonly<Record<(typeof SHELLS)[number], string>>;

/** `cavrin completion`. */
export function completionCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command: Command = new Command('completion')
    .summary('print what a shell reads to complete commands, options, walks, accounts and pages')
    .description(
      'Prints a script for a shell. Have it read at its start:\n' +
        '  bash  cavrin completion bash > ~/.local/share/bash-completion/completions/cavrin\n' +
        '  zsh   cavrin completion zsh > ~/.zfunc/_cavrin, with ~/.zfunc in fpath before compinit\n' +
        '  fish  cavrin completion fish > ~/.config/fish/completions/cavrin.fish\n' +
        'Names of walks, accounts and pages are those of the policy that the line names, or of the nearest cavrin.yaml.',
    )
    .argument('[shell]', `which shell: ${SHELLS.join(', ')}`)
    .addOption(new Option('--next', 'tell what may stand next on a line').hideHelp())
    .allowExcessArguments();
  return command.action(async (shell: string | undefined, options: { readonly next?: boolean }) => {
    if (options.next === true) {
      terminal.out.write(await next(command, terminal));
      done(STATUS.good);
      return;
    }
    const known = SHELLS.find((each) => each === shell);
    if (known !== undefined) {
      terminal.out.write(SCRIPTS[known]);
      done(STATUS.good);
    } else {
      const asked = shell === undefined ? 'which shell?' : `there is no script for ${printable(shell)}:`;
      terminal.err.write(`cavrin: ${asked} name bash, zsh or fish\n`);
      done(STATUS.wrong);
    }
  });
}

/** A line for each candidate, with what it is behind a tab. */
async function next(command: Command, terminal: Terminal): Promise<string> {
  const program = command.parent;
  if (program === null) return '';
  const found = await candidatesFor(program, command.args, terminal);
  return found
    .filter(({ text }) => printable(text) === text)
    .map(({ text, about }) => `${text}${about === '' ? '' : `\t${printable(about)}`}\n`)
    .join('');
}
