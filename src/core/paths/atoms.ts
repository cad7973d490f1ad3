import type { Pattern } from './pattern.js';
import type { RegularLanguage } from './automaton.js';
import { normalisedPaths } from './regular-language.js';

/** A segment: this text, or any text but these. */
type Part = { readonly text: string } | { readonly but: ReadonlySet<string> };

/** Paths that no pattern tells apart. */
interface Atom {
  readonly parts: readonly Part[];
  /** Whether any further segments may follow. */
  readonly isOpen: boolean;
}

/** A sample path of each set of paths that is told from others, and whether none was left out. */
export interface Samples {
  readonly paths: readonly string[];
  readonly isComplete: boolean;
}

const MOST_ATOMS = 50_000;
/** Of all atoms that are split by expressions together. */
const MOST_READINGS = 60_000;

/**
 * Splits all paths by some patterns and expressions, so that each of these matches all of a set or none of it, and gives a
 * sample of each set that is not empty.
 */
export function samplesOf(patterns: readonly Pattern[], expressions: readonly RegularLanguage[]): Samples {
  const { atoms, isComplete } = atomsOf(patterns, expressions.length > 0);
  if (expressions.length === 0) return { paths: atoms.map(plainSample), isComplete };
  const languages = [normalisedPaths(), ...expressions];
  const budget = { left: MOST_READINGS };
  const paths = atoms.flatMap((atom) => splitBy(atom, languages, budget));
  return { paths, isComplete: isComplete && budget.left > 0 };
}

/** A place in the patterns that have matched so far, segment by segment. */
class Branch {
  readonly literals = new Map<string, Branch>();
  wild: Branch | null = null;
  readonly number: number;

  constructor(private readonly all: Branch[]) {
    this.number = all.length;
    all.push(this);
  }

  literal(text: string): Branch {
    let branch = this.literals.get(text);
    if (branch === undefined) this.literals.set(text, (branch = new Branch(this.all)));
    return branch;
  }

  open(): Branch {
    return (this.wild ??= new Branch(this.all));
  }
}

function atomsOf(patterns: readonly Pattern[], isEachPath: boolean): { atoms: Atom[]; isComplete: boolean } {
  const root = new Branch([]);
  const tails = new Set<Branch>();
  for (const { segments, tail } of patterns) {
    let branch = root;
    for (const segment of segments) {
      branch = segment.kind === 'literal' ? branch.literal(segment.text) : branch.open();
    }
    if (tail) tails.add(branch);
  }
  const atoms: Atom[] = [];
  const seen = new Set<string>();
  const stack: { parts: Part[]; branches: Branch[]; inTail: string }[] = [
    { parts: [], branches: [root], inTail: '' },
  ];
  for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
    const { parts, branches } = at;
    const inTail = [
      at.inTail,
      ...branches.filter((each) => tails.has(each)).map(({ number }) => number),
    ].join();
    // What follows depends on the branches alone, unless the text of the path is looked at too.
    const key = `${branches.map(({ number }) => number).join()} ${inTail}`;
    if (!isEachPath && seen.has(key)) continue;
    seen.add(key);
    if (atoms.length >= MOST_ATOMS) return { atoms, isComplete: false };
    atoms.push({ parts, isOpen: branches.length === 0 });
    if (branches.length === 0) continue;
    const names = new Set(branches.flatMap(({ literals }) => [...literals.keys()]));
    const wild = branches.flatMap((each) => each.wild ?? []);
    stack.push({ parts: [...parts, { but: names }], branches: wild, inTail });
    for (const name of names) {
      const named = branches.flatMap((each) => each.literals.get(name) ?? []);
      stack.push({ parts: [...parts, { text: name }], branches: [...named, ...wild], inTail });
    }
  }
  return { atoms, isComplete: true };
}

function plainSample({ parts }: Atom): string {
  const texts = parts.map((part) => {
    if ('text' in part) return part.text;
    let name = 'x';
    while (part.but.has(name)) name += 'x';
    return name;
  });
  return `/${texts.join('/')}`;
}

/** Reads an atom letter by letter: how many segments are done, and the text of the next as far as that still matters. */
interface Reading {
  readonly done: number;
  readonly text: string;
}

/** The text of a segment that can be none of the names it must not be. */
const ANY = '\n';

function splitBy(atom: Atom, languages: readonly RegularLanguage[], budget: { left: number }): string[] {
  const { parts, isOpen } = atom;
  if (!isOpen && parts.every((part) => 'text' in part)) {
    const path = plainSample(atom);
    return languages[0]?.has(path) === true ? [path] : [];
  }
  const letters = lettersFor(atom, languages);
  const found = new Map<string, string>();
  const seen = new Set<string>();
  const queue: { reading: Reading; states: readonly number[]; path: string }[] = [
    { reading: { done: -1, text: '' }, states: languages.map(() => 0), path: '' },
  ];
  for (const { reading, states, path } of queue) {
    if (isWhole(atom, reading) || (path === '/' && parts.length === 0)) {
      const accepted = languages.map((language, at) => language.isAccepting(states[at] ?? -1));
      const [isNormal, ...rest] = accepted;
      const key = rest.join();
      if (isNormal === true && !found.has(key)) found.set(key, path);
    }
    for (const letter of letters) {
      const next = read(atom, reading, letter);
      if (next === null) continue;
      const unit = letter.charCodeAt(0);
      const after = languages.map((language, at) => {
        const state = states[at] ?? -1;
        return state < 0 ? -1 : language.step(state, unit);
      });
      if ((after[0] ?? -1) < 0) continue;
      const key = `${next.done} ${next.text} ${after.join()}`;
      if (seen.has(key)) continue;
      if (--budget.left <= 0) return [...found.values()];
      seen.add(key);
      queue.push({ reading: next, states: after, path: path + letter });
    }
  }
  return [...found.values()];
}

/** The reading after a letter more; null where no path of the atom goes on so. */
function read({ parts, isOpen }: Atom, { done, text }: Reading, letter: string): Reading | null {
  const part = parts[done];
  if (letter === '/') {
    if (done >= 0 && !isSegment(part, text)) return null;
    const next = Math.min(done + 1, parts.length);
    return next < parts.length || isOpen
      ? { done: next, text: '' }
      : done < 0
        ? { done: next, text: '' }
        : null;
  }
  if (done < 0) return null;
  if (part === undefined) return isOpen ? { done, text: ANY } : null;
  const longer = text === ANY ? ANY : text + letter;
  if ('text' in part) return part.text.startsWith(longer) ? { done, text: longer } : null;
  const isPrefix = longer !== ANY && [...part.but].some((name) => name.startsWith(longer));
  return { done, text: isPrefix ? longer : ANY };
}

function isWhole({ parts, isOpen }: Atom, { done, text }: Reading): boolean {
  if (done < 0) return false;
  if (done >= parts.length) return isOpen && text !== '';
  return done === parts.length - 1 && isSegment(parts[done], text);
}

function isSegment(part: Part | undefined, text: string): boolean {
  if (part === undefined || text === '') return part === undefined && text !== '';
  return 'text' in part ? part.text === text : !part.but.has(text);
}

/** One letter for each way in which the languages tell letters apart, and those of all names. */
function lettersFor({ parts }: Atom, languages: readonly RegularLanguage[]): readonly string[] {
  const names = parts.flatMap((part) => ('text' in part ? [part.text] : [...part.but])).join('');
  const letters = new Set(['/', ...Array.from(names)]);
  const known = new Map<string, number>();
  for (const unit of PREFERRED) {
    const letter = String.fromCharCode(unit);
    const key = languages.map(({ classOf }) => classOf[unit]).join();
    // Of each class one that no name has, where there is one.
    if (letters.has(letter) || known.has(key)) continue;
    known.set(key, unit);
    letters.add(letter);
  }
  return [...letters];
}

/** Letters first, so that samples look like addresses that somebody could have written. */
const PREFERRED: readonly number[] = [
  ...Array.from('xabcdefghijklmnopqrstuvwyz0123456789-_', (letter) => letter.charCodeAt(0)),
  ...Array.from({ length: 0x7e - 0x20 }, (_, at) => at + 0x21),
];
