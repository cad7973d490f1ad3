import { distance } from 'fastest-levenshtein';

/** Among more names than that a misspelling is not looked for: it would be asked for each of as many. */
const MOST_COMPARED = 200;

/** The longest sentence that is of use; names in it may be of any length. */
const LONGEST = 1_000;

/** A text cut short where nobody would read on. */
export function clipped(text: string): string {
  const short = text.replace(/\S{150,}/g, (word) => `${word.slice(0, 100)}…`);
  return short.length > LONGEST ? `${short.slice(0, LONGEST)}…` : short;
}

/** The known name nearest to a misspelt one, or null when none is near enough to have been meant. */
export function nearest(name: string, known: Iterable<string>): string | null {
  // A name longer than any key is no misspelling, and comparing it would cost the product of both lengths.
  if (name.length > 64) return null;
  const lower = name.toLowerCase();
  const limit = Math.max(1, Math.floor(name.length * 0.4));
  const ranked = [...known]
    .filter((candidate) => Math.abs(candidate.length - name.length) <= limit)
    .slice(0, MOST_COMPARED)
    .map((candidate) => ({ candidate, far: distance(lower, candidate.toLowerCase()) }))
    .filter(({ far }) => far <= limit)
    .sort((a, b) => a.far - b.far || (a.candidate < b.candidate ? -1 : 1));
  return ranked[0]?.candidate ?? null;
}

/** A list for a sentence, `a, b or c`, cut short after a few. */
export function orList(names: readonly string[], most = 8): string {
  if (names.length > most) return `${names.slice(0, most).join(', ')} …`;
  if (names.length < 2) return names.join('');
  return `${names.slice(0, -1).join(', ')} or ${names.at(-1) ?? ''}`;
}

/** A list for a sentence, `a, b and c`, with a count of those that are left out. */
export function andList(names: readonly string[], most = 5): string {
  const shown = names.slice(0, most);
  const left = names.length - shown.length;
  const parts = left === 0 ? shown : [...shown, `${left} more`];
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1) ?? ''}`;
}
