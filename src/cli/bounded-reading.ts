import { closeSync, constants, fstatSync, lstatSync, openSync, readSync, type Stats } from 'node:fs';

/** Reads a file, or standard input for null; gives null, and reads no further, where it holds more bytes than a limit. */
export function readAtMost(path: string | null, limit: number): Buffer | null {
  const descriptor = path === null ? 0 : openSync(path, 'r');
  try {
    return bytesOf(descriptor, limit);
  } finally {
    if (path !== null) closeSync(descriptor);
  }
}

/**
 * Reads a plain file of this user that nobody else may write to. Anything else is not opened: no link is followed, and no device,
 * pipe or socket is asked for anything.
 *
 * @returns null where there is no such file, or one with more bytes than the limit
 */
export function readOwnFile(path: string, limit: number): Buffer | null {
  if (!isOwnFile(lstatSync(path, { throwIfNoEntry: false }))) return null;
  const { O_RDONLY, O_NOFOLLOW, O_NONBLOCK } = constants;
  const descriptor = openSync(path, O_RDONLY | O_NOFOLLOW | O_NONBLOCK);
  try {
    // Another may have taken its place meanwhile.
    const stat = fstatSync(descriptor);
    return isOwnFile(stat) && stat.size <= limit ? bytesOf(descriptor, limit) : null;
  } finally {
    closeSync(descriptor);
  }
}

function isOwnFile(stat: Stats | undefined): boolean {
  if (stat?.isFile() !== true) return false;
  return process.getuid === undefined || (stat.uid === process.getuid() && (stat.mode & 0o022) === 0);
}

function bytesOf(descriptor: number, limit: number): Buffer | null {
  const parts: Buffer[] = [];
  for (let length = 0; length <= limit;) {
    const part = Buffer.allocUnsafe(64 * 1024);
    const read = readSome(descriptor, part);
    if (read === 0) return Buffer.concat(parts);
    parts.push(part.subarray(0, read));
    length += read;
  }
  return null;
}

/** Reads what is there; waits where a pipe that does not block has nothing yet. */
function readSome(descriptor: number, into: Buffer): number {
  for (;;) {
    try {
      return readSync(descriptor, into);
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      if (code === 'EOF') return 0;
      if (code !== 'EAGAIN') throw error;
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 10);
    }
  }
}
