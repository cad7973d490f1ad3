import { closeSync, existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { Command } from 'commander';
import { CannotWrite, reasonOf, STATUS } from './status.js';
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

/** Makes a folder with those above it, and notes each. (Told to do so itself, Node 20 never comes back where nothing can be made.) */
function makeFolder(folder: string, made: string[]): void {
  if (existsSync(folder)) return;
  makeFolder(dirname(folder), made);
  mkdirSync(folder);
  made.push(folder);
}

function write(folder: string, terminal: Terminal): void {
  const targets = FILES.map((name) => ({
    name: join(folder, name),
    text: readFileSync(join(STARTER, name)),
  }));
  const path = (name: string) => resolve(terminal.folder, name);
  const taken = targets.find(({ name }) => existsSync(path(name)));
  if (taken !== undefined) {
    throw new CannotWrite(taken.name, 'it is there already', 'choose another folder, or move it away');
  }
  const made: string[] = [];
  for (const { name, text } of targets) {
    try {
      makeFolder(dirname(path(name)), made);
      const descriptor = openSync(path(name), 'wx');
      made.push(path(name));
      try {
        writeFileSync(descriptor, text);
      } finally {
        closeSync(descriptor);
      }
    } catch (error) {
      for (const each of made.reverse()) rmSync(each, { recursive: true });
      throw new CannotWrite(name, reasonOf(error));
    }
  }
  const lines = [...targets.map(({ name }) => `wrote ${name}`), 'next: cavrin check, then cavrin walk', ''];
  terminal.out.write(lines.join('\n'));
}
