import { existsSync, linkSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { writePart } from './part-files.js';
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
  const parts: string[] = [];
  try {
    for (const { name, text } of files) {
      doing(name, () => {
        makeFolder(dirname(path(name)), made);
        parts.push(writePart(path(name), text, null));
      });
    }
    for (const [at, { name }] of files.entries()) {
      doing(name, () => {
        putInPlace(parts[at] ?? '', path(name));
        made.push(path(name));
      });
    }
  } catch (error) {
    for (const each of made.reverse()) rmSync(each, { recursive: true });
    throw error;
  } finally {
    for (const part of parts) rmSync(part, { force: true });
  }
}

/** @throws CannotWrite with what went wrong */
function doing(name: string, deed: () => void): void {
  try {
    deed();
  } catch (error) {
    throw new CannotWrite(name, reasonOf(error));
  }
}

/** Gives a file its name unless something has it meanwhile; not every file system lets a file have two. */
function putInPlace(part: string, file: string): void {
  try {
    linkSync(part, file);
  } catch (error) {
    if (!NO_LINKS.has((error as NodeJS.ErrnoException).code ?? '')) throw error;
    renameSync(part, file);
  }
}

const NO_LINKS: ReadonlySet<string> = new Set(['EPERM', 'ENOSYS', 'ENOTSUP', 'EOPNOTSUPP', 'EMLINK']);
