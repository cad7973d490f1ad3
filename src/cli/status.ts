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
