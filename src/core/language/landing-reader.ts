import { type Names } from './audience-reader.js';
import { readAskedFacts } from '../audience/facts.js';
import { readAddress, readPattern, type Scope } from './text/name-reader.js';
import type { LandingText } from './access-schema.js';
import type { Forward, LandingEntry } from './policy.js';
import { problem } from './text/problems.js';
import type { Path } from './text/yaml-text.js';

/** Where a list of landing entries stands decides what else an entry may say. */
export type LandingPlace = 'landing' | 'logout' | 'forward';

const FORMS: Record<LandingPlace, string> = {
  landing: 'a landing entry is { role: …, to: path }, { facts: …, to: path } or { otherwise: path }',
  logout: 'an entry here is { role: …, to: path }, { at: path left, to: path } or { otherwise: path }',
  forward:
    'an entry here is { role: …, to: path }, { facts: …, to: path }, { otherwise: path } or { otherwise: stay }',
};

/** Reads an ordered list of landing entries. */
export function readLandingList(
  list: readonly LandingText[],
  at: Path,
  place: LandingPlace,
  names: Names,
  scope: Scope,
): LandingEntry[] {
  return list.map((entry, index) => readEntry(entry, [...at, index], place, names, scope));
}

function readEntry(
  text: LandingText,
  at: Path,
  place: LandingPlace,
  names: Names,
  scope: Scope,
): LandingEntry {
  const otherwise = text.otherwise !== undefined;
  const condition = text.role !== undefined || text.facts !== undefined || text.at !== undefined;
  const misplaced = text.at !== undefined && place !== 'logout';
  if (otherwise === (text.to !== undefined) || otherwise === condition || misplaced) {
    scope.report(problem('bad-value', { problem: FORMS[place] }, scope.input.placeOf(at)));
  }
  const key = otherwise ? 'otherwise' : 'to';
  const to = text.otherwise ?? text.to ?? '/';
  return {
    at,
    role: otherwise ? null : (text.role?.map((name) => names.roles.resolve(name, [...at, 'role'])) ?? null),
    facts: text.facts === undefined ? null : readAskedFacts(text.facts, [...at, 'facts'], null, scope),
    leaving: text.at === undefined ? null : readPattern(text.at, [...at, 'at'], scope),
    to: place === 'forward' && to === 'stay' ? to : readAddress(to, [...at, key], scope),
  };
}

/** Reads where a page sends people on to. */
export function readForward(
  text: 'landing' | readonly LandingText[],
  at: Path,
  names: Names,
  scope: Scope,
): Forward {
  if (typeof text === 'string') return { at, entries: null, stay: false };
  const entries = readLandingList(text, at, 'forward', names, scope);
  const going = entries.filter((entry) => entry.to !== 'stay');
  return { at, entries: going, stay: going.length < entries.length };
}
