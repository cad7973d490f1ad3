import { normalisePath } from '../../src/core/paths/normalise';
import { languageOfExpression } from '../../src/core/paths/regular-language';
import type { Fuzzer } from './fuzzer';
import type { Random } from './random';

const LETTERS = ['a', 'b', '/', 'x1', '.', '\\.', '[ab]', '[^/]', '\\d', '\\w', 'ü', '%C3%BC', '-'];

/** Expressions, each with an address that is held against it. */
export function expressionFuzzer(): Fuzzer {
  return {
    what: 'expressions',
    often: 3,
    make: (random) => `${expression(random)} ${path(random)}`,
    faultOf(input) {
      const [source = '', address = ''] = input.split(' ');
      return disagreement(source, address);
    },
  };
}

/** A regular expression of real ones: letters, classes, groups, repetitions and alternatives. */
function expression(random: Random, depth = 0): string {
  const item = () => {
    const one =
      depth < 3 && random.chance(0.3)
        ? `(${random.chance(0.5) ? '?:' : ''}${expression(random, depth + 1)})`
        : random.of(LETTERS);
    return one + (random.chance(0.3) ? random.of(['*', '+', '?', '{2}', '{0,3}', '{2,}', '*?']) : '');
  };
  const sequence = () => Array.from({ length: random.below(5) }, item).join('');
  const whole = Array.from({ length: 1 + random.below(depth === 0 ? 2 : 3) }, sequence).join('|');
  return depth === 0 ? `${random.of(['^', '^/', ''])}${whole}${random.of(['$', '(/|$)', ''])}` : whole;
}

function path(random: Random): string {
  const piece = () =>
    random.of([
      'a',
      'b',
      'ab',
      'x1',
      '/',
      '.',
      '..',
      '-',
      '%C3%BC',
      'ü',
      '%61',
      '%2e',
      '9',
      '_',
      'aaaaaaaaaa',
    ]);
  return `/${Array.from({ length: random.below(8) }, piece).join('')}`;
}

const LONGEST_JUDGED = 50;

/** Where the program and the expressions of JavaScript itself disagree; null where they agree. */
function disagreement(source: string, raw: string): string | null {
  const normal = normalisePath(raw);
  if (normal === null) return null;
  if (normalisePath(normal) !== normal) {
    return `${raw} is normalised to ${normal}, and that to ${String(normalisePath(normal))}`;
  }
  const language = languageOfExpression(source);
  if (typeof language === 'string') return null;
  // The yardstick tries ways one after the other: longer ones keep it for minutes, after which it is wrong.
  if (source.length > LONGEST_JUDGED) return null;
  // A letter beyond ASCII stands for its bytes; one that is repeated is left out here, since the yardstick repeats a byte.
  const asSent = source.replaceAll('ü', '(?:%C3%BC)');
  const expected = new RegExp(asSent, 's').test(normal);
  return language.has(normal) === expected
    ? null
    : `${source} and ${normal}: ${String(!expected)} instead of ${String(expected)}`;
}
