import { closeSync, existsSync, mkdirSync, openSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { CannotWrite, reasonOf } from './status.js';
import type { Terminal } from './terminal.js';

/** Makes a folder with those above it, and notes each. (Told to do so itself, Node 20 never comes back where nothing can be made.) */
function makeFolder(folder: string, made: string[]): void {
  if (existsSync(folder)) return;
  makeFolder(dirname(folder), made);
  mkdirSync(folder);
  made.push(folder);
}

/**
 * Tells at once where a file is there already that is to be written after long work.
 *
 * @throws CannotWrite where one is
 */
export function mustBeNew(names: readonly string[], terminal: Terminal): void {
  const taken = names.find((name) => existsSync(resolve(terminal.folder, name)));
  if (taken !== undefined) {
    throw new CannotWrite(taken, 'it is there already', 'choose another folder, or move it away');
  }
}

/**
 * Writes files that are not there yet, all or none of them, with the folders that they need.
 *
 * @throws CannotWrite where one is there, or cannot be written
 */
export function writeNew(
  files: readonly { readonly name: string; readonly text: string | Uint8Array }[],
  terminal: Terminal,
): void {
  const path = (name: string) => resolve(terminal.folder, name);
  mustBeNew(
    files.map(({ name }) => name),
    terminal,
  );
  const made: string[] = [];
  for (const { name, text } of files) {
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
}
