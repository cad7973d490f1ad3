import fc from 'fast-check';
import { coverage } from '../../../src/core/paths/coverage';
import { normalisePath } from '../../../src/core/paths/normalise';
import { PageIndex } from '../../../src/core/paths/page-index';
import {
  matches,
  parametersOf,
  parsePattern,
  segmentsOf,
  type Pattern,
} from '../../../src/core/paths/pattern';

function pattern(text: string): Pattern {
  const read = parsePattern(text);
  if (typeof read === 'string') throw new Error(`${text}: ${read}`);
  return read;
}

/** Few words, so that patterns and paths often meet. */
const word = fc.constantFrom('a', 'b', 'c');
const paths = fc.array(word, { maxLength: 4 }).map((words) => `/${words.join('/')}`);
const patterns = fc
  .tuple(fc.array(fc.constantFrom('a', 'b', ':one', '*'), { maxLength: 3 }), fc.boolean())
  .filter(([segments]) => segments.filter((segment) => segment === ':one').length < 2)
  .map(([segments, tail]) => pattern(`/${[...segments, ...(tail ? ['**'] : [])].join('/')}`));

describe('normalising a path (RFC 3986 §6.2.2)', () => {
  test.each([
    ['/berths/12', '/berths/12'],
    ['/', '/'],
    ['/%62erths/%7Eann', '/berths/~ann'],
    ['/caf%c3%a9', '/caf%C3%A9'],
    ['/a/./b/../c', '/a/c'],
    ['/a/%2e%2E/b', '/b'],
    ['//a///b/', '/a/b'],
    ['/.well-known/x', '/.well-known/x'],
  ])('%s is read as %s', (raw, normal) => {
    expect(normalisePath(raw)).toBe(normal);
  });

  test.each(['/..', '/a/../../b', '/a%2Fb', '/a%5cb', '/a\\b', '/a%00', '/a%', '/a%zz', 'a', '', '/a b'])(
    '%s has no safe reading',
    (raw) => {
      expect(normalisePath(raw)).toBeNull();
    },
  );

  test('what is normal stays as it is, however the app reads paths', () => {
    const readings = fc.record({
      decodes: fc.boolean(),
      trailingSlash: fc.constantFrom('same', 'different', 'redirected'),
      encodedSlash: fc.constantFrom('refused', 'kept'),
      emptySegments: fc.constantFrom('dropped', 'kept'),
    });
    const slashed = fc.array(fc.constantFrom('/', '/', 'a', '%2F', '..', '.'), { maxLength: 7 });
    const raw = fc.oneof(
      fc.webPath(),
      slashed.map((parts) => `/${parts.join('')}`),
    );
    fc.assert(
      fc.property(raw, readings, (path, reading) => {
        const once = normalisePath(path, reading);
        fc.pre(once !== null);
        expect(normalisePath(once, reading)).toBe(once);
      }),
    );
  });
});

describe('patterns', () => {
  test.each([
    ['berths', 'slash'],
    ['/a?x=1', 'query'],
    ['/a//b', 'empty segment'],
    ['/**/a', 'end'],
    ['/a*', 'whole segment'],
    ['/:', 'parameter'],
    ['/:a/:a', 'twice'],
    ['/a/..', 'safely'],
    [`/${'a/'.repeat(41)}a`, '40 segments'],
  ])('%s is refused: %s', (text, why) => {
    expect(parsePattern(text)).toContain(why);
  });

  test.each([
    ['/berths/:id', '/berths/12', true],
    ['/berths/:id', '/berths', false],
    ['/berths/*', '/berths/12/x', false],
    ['/office/**', '/office', true],
    ['/office/**', '/office/keys/3', true],
    ['/office/**', '/offices', false],
    ['/café', '/caf%C3%A9', true],
    ['/Berths', '/berths', false],
  ])('%s on %s: %s', (text, path, expected) => {
    expect(matches(pattern(text), segmentsOf(path))).toBe(expected);
  });

  test('parameters have the value of their segment', () => {
    const found = parametersOf(pattern('/boats/:owner/*/:part'), segmentsOf('/boats/ines/x/hull'));
    expect([...found]).toEqual([
      ['owner', 'ines'],
      ['part', 'hull'],
    ]);
  });
});

describe('the most specific page', () => {
  const index = new PageIndex<string>();
  const texts = ['/a/b', '/a/:id', '/a/*/x', '/a/**', '/:x/b', '/**', '/a/b/**'];
  for (const text of texts) index.add(pattern(text), text);

  test.each([
    ['/a/b', '/a/b'],
    ['/a/c', '/a/:id'],
    ['/a/c/x', '/a/*/x'],
    ['/a/c/y', '/a/**'],
    ['/a', '/a/**'],
    ['/c/b', '/:x/b'],
    ['/c', '/**'],
    ['/', '/**'],
    ['/a/b/c', '/a/b/**'],
  ])('%s is %s', (path, expected) => {
    expect(index.find(segmentsOf(path))).toBe(expected);
  });

  test('the same addresses under other names are the same page', () => {
    expect(index.add(pattern('/a/:name'), 'again')).toBe('/a/:id');
  });

  test('a page is found exactly where some pattern matches, and its own pattern does', () => {
    fc.assert(
      fc.property(fc.array(patterns, { maxLength: 6 }), paths, (all, path) => {
        const pages = new PageIndex<Pattern>();
        for (const each of all) pages.add(each, each);
        const found = pages.find(segmentsOf(path));
        expect(found !== null).toBe(all.some((each) => matches(each, segmentsOf(path))));
        if (found !== null) expect(matches(found, segmentsOf(path))).toBe(true);
      }),
    );
  });
});

describe('coverage of a pattern by others', () => {
  test('a tail is covered only together with what it leaves out', () => {
    expect(coverage(pattern('/a/**'), [pattern('/a/*/**')])).toEqual({ covered: false, sample: '/a' });
    expect(coverage(pattern('/a/**'), [pattern('/a/*/**'), pattern('/a')]).covered).toBe(true);
  });

  test('literals never cover a wildcard', () => {
    expect(coverage(pattern('/*'), [pattern('/a'), pattern('/x')])).toEqual({
      covered: false,
      sample: '/xx',
    });
  });

  test('agrees with trying every short path, and its sample is a witness', () => {
    const words = ['a', 'b', 'c', 'x'];
    const all = [0, 1, 2, 3, 4].flatMap((length) =>
      Array.from({ length: words.length ** length }, (_, number) =>
        Array.from(
          { length },
          (__, at) => words[Math.floor(number / words.length ** at) % words.length] ?? '',
        ),
      ),
    );
    fc.assert(
      fc.property(patterns, fc.array(patterns, { maxLength: 4 }), (one, others) => {
        const left = all.filter(
          (path) => matches(one, path) && !others.some((other) => matches(other, path)),
        );
        const found = coverage(one, others);
        expect(found.covered).toBe(left.length === 0);
        if (found.covered) return;
        const witness = segmentsOf(found.sample);
        expect(matches(one, witness)).toBe(true);
        expect(others.some((other) => matches(other, witness))).toBe(false);
      }),
    );
  });
});
