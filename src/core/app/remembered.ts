import type { Remembered } from './app.js';

/** A record by which nobody is known again. */
export function withEnded(record: Remembered): Remembered {
  return record.ended ? record : withFlags(record, record.used, true);
}

/** A record with some of it changed, written out, since sessions are resumed so often. */
export function withFlags(
  { account, login, issuedAt }: Remembered,
  used: boolean,
  hasEnded: boolean,
): Remembered {
  return { account, login, issuedAt, used, ended: hasEnded };
}
