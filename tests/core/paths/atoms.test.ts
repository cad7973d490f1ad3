import type { RegularLanguage } from '../../../src/core/paths/automaton';
import fc from 'fast-check';
import { samplesOf } from '../../../src/core/paths/atoms';
import { matches, parsePattern, segmentsOf, type Pattern } from '../../../src/core/paths/pattern';
import { languageOfExpression, loadRegularLanguages } from '../../../src/core/paths/regular-language';

beforeAll(loadRegularLanguages);

function pattern(text: string): Pattern {
  const read = parsePattern(text);
  if (typeof read === 'string') throw new Error(read);
  return read;
}

function expression(text: string): RegularLanguage {
  const read = languageOfExpression(text);
  if (typeof read === 'string') throw new Error(read);
  return read;
}

const segment = fc.constantFrom('a', 'b', 'x', 'xx', '*');
const patterns = fc.array(
  fc
    .tuple(fc.array(segment, { maxLength: 3 }), fc.boolean())
    .map(([segments, tail]) => pattern(`/${[...segments, ...(tail ? ['**'] : [])].join('/')}`)),
  { maxLength: 5 },
);
const EXPRESSIONS = ['^/a', 'b$', '^/[a-c]+$', '^/(?:a|x)/', 'xx', '^/a/(?:b|c)$'];
const path = fc
  .array(fc.constantFrom('a', 'b', 'c', 'x', 'xx', 'xxx', 'q', 'ab'), { maxLength: 4 })
  .map((segments) => `/${segments.join('/')}`);

test('every path has a sample that no pattern and no expression tells from it, and no two samples are alike', () => {
  fc.assert(
    fc.property(
      patterns,
      fc.subarray(EXPRESSIONS, { maxLength: 2 }),
      fc.array(path, { minLength: 5, maxLength: 20 }),
      (all, sources, paths) => {
        const languages = sources.map(expression);
        const kindOf = (each: string) =>
          [
            ...all.map((one) => matches(one, segmentsOf(each))),
            ...languages.map((one) => one.has(each)),
          ].join();
        const { paths: samples, isComplete } = samplesOf(all, languages);
        expect(isComplete).toBe(true);
        const kinds = new Set(samples.map(kindOf));
        for (const each of paths) expect([each, kinds.has(kindOf(each))]).toEqual([each, true]);
      },
    ),
    { numRuns: 150 },
  );
});

test.each([
  [['/a', '/:x', '/a/**'], [], ['/', '/a', '/a/x', '/x', '/x/x']],
  [['/a'], ['^/b+$'], ['/', '/a', '/b', '/x', '/x/x']],
  [['/new', '/old'], ['^/(?:new|old)$'], ['/', '/new', '/old', '/x', '/x/x']],
])('%j and %j split paths into %j', (texts, sources, expected) => {
  const { paths } = samplesOf(texts.map(pattern), sources.map(expression));
  const kindOf = (each: string) =>
    [
      ...texts.map((text) => matches(pattern(text), segmentsOf(each))),
      ...sources.map((source) => expression(source).has(each)),
      segmentsOf(each).length > 1,
      each === '/',
    ].join();
  expect(new Set(paths.map(kindOf))).toEqual(new Set(expected.map(kindOf)));
});

test('what cannot be settled is told', () => {
  const many = Array.from({ length: 40 }, (_, at) => pattern(`/${'*/'.repeat(at % 7)}n${at}`));
  const { isComplete } = samplesOf(many, [expression('^(?:[^/]*/){1,40}q'), expression('(?:a|b)c{0,60}$')]);
  expect(isComplete).toBe(false);
});
