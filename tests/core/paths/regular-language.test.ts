import type { RegularLanguage } from '../../../src/core/paths/automaton';
import fc from 'fast-check';
import { normalisePath } from '../../../src/core/paths/normalise';
import { matches, parsePattern, segmentsOf, type Pattern } from '../../../src/core/paths/pattern';
import {
  languageOfExpression,
  languageOfPattern,
  languageOfWholeSegments,
  loadRegularLanguages,
  normalisedPaths,
} from '../../../src/core/paths/regular-language';
import { readingBudget, remainder } from '../../../src/core/paths/remainder';

beforeAll(loadRegularLanguages);

function language(source: string): RegularLanguage {
  const compiled = languageOfExpression(source);
  if (typeof compiled === 'string') throw new Error(`${source}: ${compiled}`);
  return compiled;
}

/** Expressions of every construct that can be used, over few letters so that they meet often. */
const expression = fc.letrec<{ whole: string; part: string; atom: string }>((tie) => ({
  atom: fc.constantFrom('a', 'b', '/', '.', '[ab]', '[^a]', '\\d', '\\w', '\\/', '^', '$', '(?:)'),
  part: fc.oneof(
    { maxDepth: 4 },
    tie('atom'),
    fc.tuple(tie('part'), tie('part')).map(([one, other]) => one + other),
    fc.tuple(tie('part'), tie('part')).map(([one, other]) => `(${one}|${other})`),
    fc
      .tuple(tie('part'), fc.constantFrom('*', '+', '?', '{2}', '{1,3}', '*?'))
      .map(([one, many]) => `(?:${one})${many}`),
  ),
  whole: tie('part'),
})).whole;
const path = fc
  .array(fc.constantFrom('a', 'b', 'ab', '1', 'ba1', '-'), { maxLength: 4 })
  .map((segments) => `/${segments.join('/')}`);

test('an expression takes the paths in which JavaScript finds a match, and no others', () => {
  fc.assert(
    fc.property(expression, path, (source, sample) => {
      expect(language(source).has(sample)).toBe(new RegExp(source, 's').test(sample));
    }),
    { numRuns: 1500 },
  );
});

test('an expression that is followed without being written out takes the same paths', () => {
  const large = fc.constantFrom('^/(.*a.{14})$', 'a[^b]{11}b', '^/(a|b)*a(a|b){10}(/|$)', '.*a.{9}b.{9}1');
  const long = fc
    .array(fc.constantFrom('a', 'b', '1', '-', '/'), { minLength: 10, maxLength: 40 })
    .map((letters) => `/${letters.join('')}`);
  fc.assert(
    fc.property(large, long, (source, sample) => {
      expect(language(source).has(sample)).toBe(new RegExp(source, 's').test(sample));
    }),
    { numRuns: 1500 },
  );
  // To compare it with others would take too much reading: then that is what is said.
  const whole = language('^/(.*a.{14})$');
  expect(remainder(whole, [language('^/b')], normalisedPaths(), readingBudget())).toEqual({
    left: 'unsettled',
  });
});

test('letters beyond ASCII stand for their bytes in an address', () => {
  for (const [source, sample, expected] of [
    ['^/straße$', '/stra%C3%9Fe', true],
    ['^/[äöü]+$', '/%C3%BC%C3%A4', true],
    ['^/[äöü]+$', '/%C3%9F', false],
    ['^/日本', '/%E6%97%A5%E6%9C%AC/x', true],
    ['^/.$', '/%C3%9F', false],
  ] as const) {
    expect(language(source).has(sample)).toBe(expected);
  }
});

test.each([
  ['(a*)*b', `/${'a'.repeat(50_000)}`],
  ['^/(a|aa)+$', `/${'a'.repeat(50_000)}b`],
  ['^/(.*a.{14})$', `/${'b'.repeat(8_000)}`],
])('%s costs no more than the path is long', (source, sample) => {
  // A matcher that tries ways one after the other would not come back from these.
  expect(language(source).has(sample)).toBe(false);
});

test('the normalised paths are those that normalising leaves as they are', () => {
  const odd = fc
    .array(fc.constantFrom('/', 'a', '.', '..', '%41', '%2F', '%2f', '%20', '~', '|', '%', '\\', '=', 'é'), {
      maxLength: 8,
    })
    .map((parts) => `/${parts.join('')}`);
  fc.assert(
    fc.property(odd, (sample) => {
      expect(normalisedPaths().has(sample)).toBe(normalisePath(sample) === sample);
    }),
    { numRuns: 2000 },
  );
});

const pattern: fc.Arbitrary<Pattern> = fc
  .tuple(fc.array(fc.constantFrom('a', 'b', 'ab', '*', '1'), { maxLength: 3 }), fc.boolean())
  .map(([segments, tail]) => parsePattern(`/${[...segments, ...(tail ? ['**'] : [])].join('/')}`) as Pattern);

test('a pattern and its language take the same paths', () => {
  fc.assert(
    fc.property(pattern, path, (each, sample) => {
      expect(languageOfPattern(each).has(sample)).toBe(matches(each, segmentsOf(sample)));
    }),
  );
});

test('what is left of a language is in it and in none of the others; where nothing is, every path shows it', () => {
  const one = fc.oneof(pattern.map(languageOfPattern), expression.map(language));
  let settledAsNothing = 0;
  fc.assert(
    fc.property(
      one,
      fc.array(one, { maxLength: 3 }),
      fc.array(path, { maxLength: 20 }),
      (whole, others, samples) => {
        const left = remainder(whole, others, normalisedPaths(), readingBudget());
        if (left.left === 'something') {
          expect(normalisePath(left.sample)).toBe(left.sample);
          expect([whole.has(left.sample), ...others.map((other) => other.has(left.sample))]).toEqual([
            true,
            ...others.map(() => false),
          ]);
        } else {
          settledAsNothing++;
          const missed = samples.filter(
            (sample) => whole.has(sample) && !others.some((other) => other.has(sample)),
          );
          expect(missed).toEqual([]);
        }
      },
    ),
    { numRuns: 500 },
  );
  expect(settledAsNothing).toBeGreaterThan(10);
});

test.each([
  ['^/new', '/new', true],
  ['^/new', '/new/box', true],
  ['^/new', '/newsletter', false],
  ['^/new(/|$)', '/new/box', true],
  ['^/(new|create)$', '/create', true],
  ['news', '/a/news/b', true],
  ['news', '/newsletter/news', true],
])('%s in %s: a match that ends where a segment does is %s', (source, sample, expected) => {
  const whole = languageOfWholeSegments(source);
  expect(typeof whole !== 'string' && whole.has(sample)).toBe(expected);
});
