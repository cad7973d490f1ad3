import type { RegularLanguage } from './regular-language.js';

/** What is left of a language once others have taken their paths. */
export type Remainder =
  /** Nothing: these of the others, by index, take it all between them. */
  | { readonly left: 'nothing'; readonly takenBy: readonly number[] }
  /** A shortest path that is left. */
  | { readonly left: 'something'; readonly sample: string }
  /** Too many combinations to settle it. */
  | { readonly left: 'unsettled' };

const MOST_COMBINATIONS = 100_000;

/**
 * Settles exactly which paths of a language none of the others has, by reading all of them side by side. The search goes
 * by length, so that a sample is among the shortest.
 *
 * @param within only paths of this language count
 */
export function remainder(
  language: RegularLanguage,
  others: readonly RegularLanguage[],
  within: RegularLanguage,
): Remainder {
  const all = [language, within, ...others];
  const letters = lettersOf(all);
  const start: Place = { states: all.map(() => 0), before: null, unit: 0 };
  const seen = new Set([start.states.join(' ')]);
  const queue = [start];
  const takenBy = new Set<number>();
  for (const place of queue) {
    const [own = -1, inside = -1, ...rest] = place.states;
    if (language.accepting[own] === true && within.accepting[inside] === true) {
      const taker = rest.findIndex((state, at) => others[at]?.accepting[state] === true);
      if (taker < 0) return { left: 'something', sample: textOf(place) };
      takenBy.add(taker);
    }
    for (const unit of letters) {
      const states = place.states.map((state, at) => step(all[at], state, unit));
      if ((states[0] ?? -1) < 0 || (states[1] ?? -1) < 0) continue;
      const key = states.join(' ');
      if (seen.has(key)) continue;
      if (seen.size >= MOST_COMBINATIONS) return { left: 'unsettled' };
      seen.add(key);
      queue.push({ states, before: place, unit });
    }
  }
  return { left: 'nothing', takenBy: [...takenBy].sort((a, b) => a - b) };
}

interface Place {
  readonly states: readonly number[];
  readonly before: Place | null;
  readonly unit: number;
}

function step(language: RegularLanguage | undefined, state: number, unit: number): number {
  if (language === undefined || state < 0) return -1;
  return language.next[state * language.classes + (language.classOf[unit] ?? 0)] ?? -1;
}

function textOf(place: Place): string {
  let text = '';
  for (let at: Place | null = place; at.before; at = at.before) text = String.fromCharCode(at.unit) + text;
  return text;
}

/** Letters before digits before signs: a sample should look like an address that somebody could have written. */
const PREFERRED = 'abcdefghijklmnopqrstuvwxyz0123456789-_ABCDEFGHIJKLMNOPQRSTUVWXYZ';

/** One character for each way in which the languages tell characters apart. */
function lettersOf(languages: readonly RegularLanguage[]): number[] {
  const units = Array.from({ length: 0x7e - 0x20 }, (_, at) => at + 0x21);
  const rank = (unit: number) => {
    const at = PREFERRED.indexOf(String.fromCharCode(unit));
    return at < 0 ? PREFERRED.length : at;
  };
  units.sort((a, b) => rank(a) - rank(b));
  const letters = new Map<string, number>();
  for (const unit of units) {
    const key = languages.map((language) => language.classOf[unit]).join(' ');
    if (!letters.has(key)) letters.set(key, unit);
  }
  return [...letters.values()];
}
