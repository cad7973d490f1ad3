import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Command } from 'commander';
import { writeNew } from './new-files.js';
import { STATUS } from './status.js';
import type { Terminal } from './terminal.js';

const STARTER = join(import.meta.dirname, '..', 'examples', 'starter');
const FILES = ['cavrin.yaml', join('walks', 'first.yaml')];

/** `cavrin init`. */
export function initCommand(terminal: Terminal, done: (status: number) => void): Command {
  return new Command('init')
    .summary('write a commented starter policy and walks')
    .description(
      'Writes cavrin.yaml and walks/first.yaml, commented and sound, to start from. Files that exist are never written over.\n' +
        'Exit status: 0 written, 2 nothing was written.',
    )
    .argument('[folder]', 'where to write them (default: here)')
    .action((folder: string | undefined) => {
      write(folder ?? '.', terminal);
      done(STATUS.good);
    });
}

function write(folder: string, terminal: Terminal): void {
  const files = FILES.map((name) => ({ name: join(folder, name), text: readFileSync(join(STARTER, name)) }));
  writeNew(files, terminal);
  const lines = [...files.map(({ name }) => `wrote ${name}`), 'next: cavrin check, then cavrin walk', ''];
  terminal.out.write(lines.join('\n'));
}
