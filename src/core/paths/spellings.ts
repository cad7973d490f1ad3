import type { PathRules } from './path-rules.js';
import type { RegularLanguage } from './automaton.js';
import type { Samples } from './atoms.js';
import type { Pattern, Segment } from './pattern.js';
import { languageOf, normalisedPaths } from './regular-language.js';

/** Of all paths that are split by languages together. */
const MOST_READINGS = 200_000;

/** Whether expressions see spellings that patterns do not tell apart. */
export function tellsSpellings({ letterCase, expressions }: PathRules): boolean {
  return letterCase === 'ignored' || expressions === 'as-sent';
}

/**
 * A sample of every set of paths, in the spelling in which expressions see them, that patterns and expressions tell apart, where
 * the two do not see the same: patterns take letters in either case, or paths that were sent in other spellings.
 */
export function samplesOfSpellings(
  patterns: readonly Pattern[],
  expressions: readonly RegularLanguage[],
  routing: PathRules,
): Samples {
  const written = new Map(patterns.map((pattern) => [pattern.text, languageOfSpellings(pattern, routing)]));
  const all = routing.expressions === 'as-sent' ? sentPaths(routing) : normalisedPaths();
  const languages = [all, ...written.values(), ...expressions];
  const letters = lettersFor(languages);
  const found = new Map<string, string>();
  const seen = new Set<string>();
  const queue = [{ states: languages.map(() => 0), path: '' }];
  let looked = 0;
  for (const { states, path } of queue) {
    const [isPath, ...told] = languages.map((language, at) => language.isAccepting(states[at] ?? -1));
    if (isPath === true && !found.has(told.join())) found.set(told.join(), path);
    for (const letter of letters) {
      const after = languages.map((language, at) => {
        const state = states[at] ?? -1;
        return state < 0 ? -1 : language.step(state, letter.charCodeAt(0));
      });
      const key = after.join();
      if ((after[0] ?? -1) < 0 || seen.has(key)) continue;
      if (++looked > MOST_READINGS) return { paths: [...found.values()], isComplete: false };
      seen.add(key);
      queue.push({ states: after, path: path + letter });
    }
  }
  return { paths: [...found.values()], isComplete: true };
}

/** One letter for each way in which the languages tell letters apart. */
function lettersFor(languages: readonly RegularLanguage[]): readonly string[] {
  const letters = new Map<string, string>();
  for (let unit = 0x7e; unit > 0x20; unit--) {
    letters.set(languages.map(({ classOf }) => classOf[unit]).join(), String.fromCharCode(unit));
  }
  return [...letters.values()];
}

/** The paths that a pattern takes, in every spelling that an app reads as one of them. */
export function languageOfSpellings({ segments, tail }: Pattern, routing: PathRules): RegularLanguage {
  const isSent = routing.expressions === 'as-sent';
  const joins = isSent && routing.emptySegments === 'dropped';
  const slash = joins ? '/+' : '/';
  const end = !isSent || routing.trailingSlash === 'different' ? '' : joins ? '/*' : '/?';
  const parts = segments.map((segment) => slash + textOf(segment, routing, isSent)).join('');
  const rest = tail ? (parts === '' ? '/.*' : '(?:/.*)?') : parts === '' ? slash : end;
  return languageOf(`^${parts}${rest}$`);
}

function textOf(segment: Segment, routing: PathRules, isSent: boolean): string {
  if (segment.kind !== 'literal') return '[^/]+';
  return segment.text.replace(/%..|[^%]/g, (unit) => unitOf(unit, routing, isSent));
}

/** A character, or an escape, in every spelling. */
function unitOf(unit: string, { letterCase, decodes }: PathRules, isSent: boolean): string {
  const cases = letterCase === 'ignored' ? [unit.toLowerCase(), unit.toUpperCase()] : [unit];
  if (unit.startsWith('%')) return `(?:${[unit.toLowerCase(), unit.toUpperCase()].join('|')})`;
  const escapes = isSent && decodes && /[\w.~-]/.test(unit) ? cases.map(escapeOf) : [];
  return `(?:${[...cases.map((each) => each.replace(/\W/, '\\$&')), ...escapes].join('|')})`;
}

function escapeOf(character: string): string {
  const digits = character.charCodeAt(0).toString(16).padStart(2, '0');
  return `%${digits.replace(/[a-f]/g, (digit) => `[${digit}${digit.toUpperCase()}]`)}`;
}

/** All paths that can be sent and are not refused out of hand; what browsers resolve, dot segments, left out. */
function sentPaths({ encodedSlash }: PathRules): RegularLanguage {
  const digit = '[0-9A-Fa-f]';
  const of2 = encodedSlash === 'kept' ? '[0-9A-DFa-df]' : '[0-9A-Da-d]';
  const of5 = encodedSlash === 'kept' ? digit : '[0-9ABD-Fabd-f]';
  const escape = `%(?:0[1-9A-Fa-f]|2${of2}|5${of5}|[1346-9A-Fa-f]${digit})`;
  const other = `(?:[^#%./?\\\\]|${escape})`;
  const segment = `(?:${other}|\\.${other}|\\.\\.(?:${other}|\\.))(?:${other}|\\.)*`;
  // Two slashes at the start are no path to a browser but another site.
  return languageOf(`^/(?:${segment}(?:/(?:${segment})?)*)?$`);
}
