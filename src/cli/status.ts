/** Exit statuses, the same for every command. */
export const STATUS = {
  /** All holds. */
  good: 0,
  /** Something was found, failed or changed. */
  found: 1,
  /** The input or the call is wrong. */
  wrong: 2,
  /** Not settled within the limits given, or interrupted. */
  unsettled: 3,
} as const;

/** What the program cannot do as it was called, and what to do instead; no fault of its own. */
export class Refused extends Error {}

/** What somebody ended before it was done. */
export class Unfinished extends Refused {}

/** Standard input comes once. */
export class CannotWatch extends Refused {
  constructor() {
    super('--watch cannot watch standard input: name the file instead of -');
  }
}

/** A result that could not be written. */
export class CannotWrite extends Refused {
  constructor(
    file: string,
    reason: string,
    remedy = 'name a file in a folder that exists and can be written to',
  ) {
    super(`cannot write ${file}: ${reason}; ${remedy}`);
  }
}

const REASONS: Readonly<Record<string, string>> = {
  EACCES: 'permission is denied',
  EDQUOT: 'no room is left for you',
  EEXIST: 'it is there already',
  EFBIG: 'it would be too large',
  EISDIR: 'it is a folder',
  ELOOP: 'its links lead round and round',
  ENAMETOOLONG: 'its name is too long',
  ENOENT: 'there is no such folder',
  ENOSPC: 'no room is left',
  ENOTDIR: 'part of its path is no folder',
  ENXIO: 'nothing is at its other end',
  EPERM: 'permission is denied',
  EPIPE: 'nobody reads it any more',
  EROFS: 'nothing can be written there',
};

/** Why the system could not do something, in words, with its own code for who wants to look it up. */
export function reasonOf(error: unknown): string {
  const { code } = error as NodeJS.ErrnoException;
  if (code === undefined) return String(error);
  const words = REASONS[code];
  return words === undefined ? code : `${words} (${code})`;
}
