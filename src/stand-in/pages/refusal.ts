import { printable } from '../../render/style.js';

/** Where a refusal of before is remembered: in a cookie of the stand-in's own. */
export interface Refusal {
  readonly target: string;
  readonly why: string;
  readonly line: number | null;
}

/** Longer addresses are cut, so that the cookie stays small. */
const LONGEST_TARGET = 200;

/** A refusal as the value of a cookie. */
export function writeRefusal({ target, why, line }: Refusal): string {
  const short = printable(target).slice(0, LONGEST_TARGET);
  return Buffer.from(JSON.stringify([short, why, line])).toString('base64url');
}

/** Reads what `writeRefusal` wrote; null for anything else, since a browser can send what it likes. */
export function readRefusal(value: string | null): Refusal | null {
  if (value === null) return null;
  try {
    const [target, why, line] = JSON.parse(Buffer.from(value, 'base64url').toString()) as unknown[];
    if (typeof target !== 'string' || typeof why !== 'string') return null;
    return { target, why, line: typeof line === 'number' ? line : null };
  } catch {
    return null;
  }
}
