import { problem, type Diagnostic, type Source } from '../core/internal.js';

/** Says that a source cannot be used: where, why, and what to do. */
export function badSource(
  source: Source,
  at: number,
  says: { readonly problem: string; readonly remedy: string },
): Diagnostic {
  const start = Math.min(Math.max(at, 0), source.text.length);
  return problem('bad-source', says, { source, start, end: Math.min(start + 1, source.text.length) });
}
