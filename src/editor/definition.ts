import type { Place, Source } from '../core/internal.js';
import { cursorAt } from './cursor.js';
import { nameKindAt, namesIn } from './naming.js';

/** Where the name at an offset of a text is defined, in the policy; null for what is no name, or is defined nowhere. */
export function definitionOf(text: string, offset: number, policy: Source | null): Place | null {
  const cursor = cursorAt(text, offset);
  const kind = cursor === null ? null : nameKindAt(cursor.path, cursor.isKey);
  if (cursor === null || kind === null || policy === null) return null;
  const range = namesIn(policy.text)[kind].get(cursor.text.split('?')[0] ?? '');
  if (range === undefined) return null;
  const [start, end] = range;
  return { source: policy, start, end };
}
