import { AUDIENCE_WORDS, type Source } from '../core/internal.js';
import { writingAt } from './cursor.js';
import { nameKindAt, namesIn } from './naming.js';
import { schemasAt } from './schema-at.js';

/** Something that may be written at a place. */
export interface Suggestion {
  readonly text: string;
  readonly kind: 'key' | 'word' | 'name';
  readonly about: string;
}

/** What may be written at an offset of a text: keys and words by the schema, roles, accounts and pages by the policy. */
export function suggestionsFor(
  text: string,
  offset: number,
  file: 'policy' | 'walks',
  policy: Source | null,
): Suggestion[] {
  const writing = writingAt(text, offset);
  if (writing === null) return [];
  const { typed } = writing;
  const { path, isKey } = writing.cursor;
  if (isKey) return keysOf(file, path.slice(0, -1));
  // A scalar in the place of a map is its first key.
  const schemas = schemasAt(file, path);
  const words = schemas.flatMap((schema) => [
    ...(schema.enum ?? []),
    ...(schema.const === undefined ? [] : [schema.const]),
  ]);
  const kind = nameKindAt(path, false);
  const defined = policy === null || kind === null ? [] : [...namesIn(policy.text)[kind].keys()];
  // The word that is being written is no name yet.
  const names = [...defined.filter((name) => name !== typed), ...(kind === 'role' ? AUDIENCE_WORDS : [])];
  return [
    ...names.map((name): Suggestion => ({ text: name, kind: 'name', about: kind ?? '' })),
    ...[...new Set(words.map(String))].map((word): Suggestion => ({ text: word, kind: 'word', about: '' })),
    ...(schemas.some(({ properties }) => properties !== undefined) ? keysOf(file, path) : []),
  ];
}

function keysOf(file: 'policy' | 'walks', path: Parameters<typeof schemasAt>[1]): Suggestion[] {
  const found = new Map<string, Suggestion>();
  for (const { properties = {} } of schemasAt(file, path)) {
    for (const [key, { description = '' }] of Object.entries(properties)) {
      found.set(key, { text: key, kind: 'key', about: description });
    }
  }
  return [...found.values()];
}
