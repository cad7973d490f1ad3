import { at } from '../vocabulary/tables.js';
import type { RegularLanguage } from './automaton.js';

/** What is left of a language once others have taken their paths. */
export type Remainder =
  /** Nothing: these of the others, by index, take it all between them. */
  | { readonly left: 'nothing'; readonly takenBy: readonly number[] }
  /** A shortest path that is left. */
  | { readonly left: 'something'; readonly sample: string }
  /** Too many combinations to settle it. */
  | { readonly left: 'unsettled' };

/** How much may still be read, in characters for each language. */
export interface ReadingBudget {
  left: number;
}

/** What a policy's checks may read together: more than any needs that people write, and a second of work. */
export function readingBudget(): ReadingBudget {
  return { left: 1_500_000 };
}

/**
 * Settles exactly which paths of a language none of the others has, by reading all of them side by side. The search goes
 * by length, so that a sample is among the shortest.
 *
 * @param within only paths of this language count
 * @param budget what may be read; once nothing is left nothing is settled
 */
export function remainder(
  language: RegularLanguage,
  others: readonly RegularLanguage[],
  within: RegularLanguage,
  budget: ReadingBudget,
): Remainder {
  // To begin already takes time in proportion to the others.
  budget.left -= others.length;
  if (budget.left <= 0) return { left: 'unsettled' };
  const letters = lettersOf([language, within, ...others]);
  const start: Place = {
    own: 0,
    inside: 0,
    alive: others.flatMap((_, at) => [at, 0]),
    before: null,
    unit: 0,
  };
  const seen = new Set([keyOf(start)]);
  const queue = [start];
  const takenBy = new Set<number>();
  for (const place of queue) {
    const { own, inside, alive } = place;
    if (language.isAccepting(own) && within.isAccepting(inside)) {
      const taker = takerOf(alive, others);
      if (taker < 0) return { left: 'something', sample: textOf(place) };
      takenBy.add(taker);
    }
    for (const unit of letters) {
      budget.left -= language.cost + within.cost;
      if (budget.left <= 0) return { left: 'unsettled' };
      const next = { own: language.step(own, unit), inside: within.step(inside, unit) };
      if (next.own < 0 || next.inside < 0) continue;
      const left: number[] = [];
      for (let each = 0; each < alive.length; each += 2) {
        const index = at(alive, each);
        const other = others[index];
        if (other === undefined) continue;
        budget.left -= other.cost;
        if (budget.left <= 0) return { left: 'unsettled' };
        const state = other.step(at(alive, each + 1), unit);
        if (state >= 0) left.push(index, state);
      }
      const reached = { ...next, alive: left, before: place, unit };
      const key = keyOf(reached);
      if (seen.has(key)) continue;
      seen.add(key);
      queue.push(reached);
    }
  }
  return { left: 'nothing', takenBy: [...takenBy].sort((a, b) => a - b) };
}

interface Place {
  readonly own: number;
  readonly inside: number;
  /** Of the others those that can still match, each by its index and its state. */
  readonly alive: readonly number[];
  readonly before: Place | null;
  readonly unit: number;
}

function keyOf({ own, inside, alive }: Place): string {
  return `${own} ${inside} ${alive.join(' ')}`;
}

/** The first of the others that has the path; -1 where none has. */
function takerOf(alive: readonly number[], others: readonly RegularLanguage[]): number {
  for (let each = 0; each < alive.length; each += 2) {
    const other = at(alive, each);
    if (others[other]?.isAccepting(at(alive, each + 1)) === true) return other;
  }
  return -1;
}

function textOf(place: Place): string {
  let text = '';
  for (let at: Place | null = place; at.before; at = at.before) text = String.fromCharCode(at.unit) + text;
  return text;
}

/** Letters before digits before signs: a sample should look like an address that somebody could have written. */
const PREFERRED = 'abcdefghijklmnopqrstuvwxyz0123456789-_ABCDEFGHIJKLMNOPQRSTUVWXYZ';

const UNITS = Array.from({ length: 0x7e - 0x20 }, (_, at) => at + 0x21).sort((a, b) => rankOf(a) - rankOf(b));

function rankOf(unit: number): number {
  const at = PREFERRED.indexOf(String.fromCharCode(unit));
  return at < 0 ? PREFERRED.length : at;
}

/** One character for each way in which the languages tell characters apart. */
function lettersOf(languages: readonly RegularLanguage[]): number[] {
  const groups = new Uint8Array(UNITS.length);
  const numbers = new Uint8Array(UNITS.length * 128);
  for (let many = 1, each = 0; each < languages.length && many < UNITS.length; each++) {
    const classOf = languages[each]?.classOf;
    numbers.fill(0, 0, many * 128);
    many = 0;
    UNITS.forEach((unit, at) => {
      const key = (groups[at] ?? 0) * 128 + (classOf?.[unit] ?? 0);
      // 0 stands for none yet.
      numbers[key] ||= ++many;
      groups[at] = (numbers[key] ?? 1) - 1;
    });
  }
  // Numbers are given in order, so the first of a group is the one that is liked best.
  return UNITS.filter((_, at) => groups.indexOf(groups[at] ?? 0) === at);
}
