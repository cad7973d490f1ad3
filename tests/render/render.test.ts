import stringWidth from 'fast-string-width';
import fc from 'fast-check';
import { problem } from '../../src/core/language/text/problems';
import { sourceOf } from '../../src/core/language/text/source';
import { playWalk } from '../../src/core/walks/runner';
import { flow, padTo } from '../../src/render/columns';
import { diagnosticsText } from '../../src/render/diagnostics-text';
import { findingsJson } from '../../src/render/findings-json';
import { findingsFormat, walksFormat } from '../../src/render/json-formats';
import { markdownText } from '../../src/render/markdown';
import { walkInWords } from '../../src/render/proof-walk-words';
import { walksMarkdown } from '../../src/render/result-markdown';
import { printable } from '../../src/render/style';
import { walksJson } from '../../src/render/walks-json';
import { walksText } from '../../src/render/walks-text';
import { harbour, playSteps, policyText, project } from '../support/policies';

const PLAIN = { color: false, width: 100 };

describe('text that came from somebody else', () => {
  test.each([
    ['\u001b[31mred', '\\u{1b}[31mred'],
    ['two\nlines\ttab', 'two\\u{a}lines\\u{9}tab'],
    ['\u202eover', '\\u{202e}over'],
    ['zero\u200bwidth\ufeff', 'zero\\u{200b}width\\u{feff}'],
    ['\u009b31m', '\\u{9b}31m'],
    ['Ærøskøbing 港', 'Ærøskøbing 港'],
  ])('%j is shown as %s', (text, shown) => {
    expect(printable(text)).toBe(shown);
  });

  test('cannot reach the terminal through any part of a walk or a finding', () => {
    const evil = 'x\\u001b]0;y\\u0007';
    const policy = policyText().replace('app: Test', `app: "${evil}"`);
    const result = playSteps(policy, [`{ visit: /, named: "${evil}", in: "${evil}", lands: "/${evil}" }`]);
    const { input } = project(policy);
    if (input === null) throw new Error('no input');
    const text = walksText([result], `${evil}\u001b`, input, {
      ...PLAIN,
      quiet: false,
      verbose: null,
      opened: 'all' as const,
    });
    // eslint-disable-next-line no-control-regex
    expect(text).not.toMatch(/[\u0000-\u0009\u000b-\u001f]/);
    expect(text).toContain('x\\u{1b}]0;y\\u{7}');
  });
});

describe('laying out', () => {
  test('no line is wider than it may be, and nothing is lost', () => {
    const parts = fc.array(
      fc.string({ unit: fc.constantFrom('a', 'b', '港', '-'), minLength: 1, maxLength: 30 }),
      { maxLength: 8 },
    );
    fc.assert(
      fc.property(parts, fc.integer({ min: 2, max: 20 }), (all, width) => {
        const lines = flow(all, width, ' ');
        for (const each of lines) expect(stringWidth(each)).toBeLessThanOrEqual(width);
        expect(lines.join('').replaceAll(' ', '')).toBe(all.join(''));
      }),
    );
  });

  test('wide characters take two columns', () => {
    expect(padTo('港', 4)).toBe('港  ');
  });

  test.each([80, 100, 159])('the harbour fits %i columns', (width) => {
    const { stage, walks, input, policy } = harbour();
    if (input === null || policy === null) throw new Error('no policy');
    const results = walks.map((walk) => playWalk(stage, walk));
    const text = walksText(
      results,
      policy.app,
      { ...input, source: { ...input.source, file: 'cavrin.yaml' } },
      { color: false, width, quiet: false, verbose: null, opened: 'all' as const },
    );
    for (const each of text.split('\n').filter((row) => !row.includes('examples'))) {
      expect(stringWidth(each)).toBeLessThanOrEqual(width);
    }
  });
});

describe('excerpts', () => {
  const excerpt = (text: string, start: number, end: number, width = 60) => {
    const diagnostic = problem(
      'yaml-syntax',
      { problem: 'x' },
      { source: sourceOf('f.yaml', text), start, end },
    );
    return diagnosticsText([diagnostic], { color: false, width }).split('\n').slice(3, 5);
  };

  test.each([
    ['the first line', 'abc: d\nx', 5, 6, ['    1 │ abc: d', '      │      ~']],
    ['the last line, up to its end', 'x\nabc: d', 2, 8, ['    2 │ abc: d', '      │ ~~~~~~']],
    ['the end of the text', 'abc', 3, 3, ['    1 │ abc', '      │    ~']],
    ['a place that goes on over lines', 'ab\ncd', 1, 5, ['    1 │ ab', '      │  ~']],
    ['tabs', '\ta: b', 4, 5, ['    1 │   a: b', '      │      ~']],
    ['wide characters', '港: b', 3, 4, ['    1 │ 港: b', '      │     ~']],
  ])('%s', (_what, text, start, end, expected) => {
    expect(excerpt(text, start, end)).toEqual(expected);
  });

  test('a long line is cut around the place', () => {
    const [shown = '', under = ''] = excerpt(`${'a'.repeat(500)}HERE${'b'.repeat(500)}`, 500, 504, 60);
    expect(shown).toContain('aHEREb');
    expect(shown.length).toBeLessThanOrEqual(60);
    expect(shown.slice(under.indexOf('~'), under.lastIndexOf('~') + 1)).toBe('HERE');
  });
});

describe('JSON', () => {
  test('of walks keeps to its format, passed or not', () => {
    const { stage, walks, input } = harbour();
    if (input === null) throw new Error('no input');
    const failing = playSteps(policyText(), [
      '{ visit: /desk, lands: /desk }',
      '{ wait: 5m }',
      '{ reload: , in: other }',
    ]);
    const json: unknown = JSON.parse(
      walksJson([...walks.map((walk) => playWalk(stage, walk)), failing], 'x', input),
    );
    expect(walksFormat.parse(json).totals).toMatchObject({ walks: walks.length + 1, failed: 1 });
  });

  test('of findings keeps to its format, with and without a place', () => {
    const source = sourceOf('f.yaml', 'a\nbc');
    const place = { source, start: 2, end: 4 };
    const json: unknown = JSON.parse(
      findingsJson([
        problem('no-file', { file: 'x' }, null),
        problem('duplicate-key', { key: 'a' }, place, [{ place, message: 'first' }]),
        { ...problem('no-walks', undefined, place), code: 'return-address-careless', severity: 'warning' },
      ]),
    );
    const { findings, totals } = findingsFormat.parse(json);
    expect(totals).toEqual({ errors: 2, warnings: 1, advice: 0 });
    expect(findings.map((each) => each.place)).toEqual([
      null,
      ...Array<unknown>(2).fill({ file: 'f.yaml', line: 2, column: 1, endLine: 2, endColumn: 3 }),
    ]);
    expect(findings[2]?.check?.cwe).toBe('CWE-601');
  });
});

test('colour is there only when asked for', () => {
  const finding = [problem('no-walks', undefined, null)];
  expect(diagnosticsText(finding, { ...PLAIN, color: true })).toContain('\u001b[31m');
  expect(diagnosticsText(finding, PLAIN)).not.toContain('\u001b');
});

describe('for the comment of a review', () => {
  test.each([
    ['<img src=x onerror=alert(1)>', '&lt;img src=x onerror=alert(1)&gt;'],
    ['a|b', 'a\\|b'],
    ['**bold** [link](http://x)', '\\*\\*bold\\*\\* \\[link\\](http&#58;//x)'],
    ['@somebody #12', '&#64;somebody &#35;12'],
    ['1. one', '1&#8203;. one'],
    ['www.example.com', 'www&#8203;.example.com'],
    ['&lt;b>', '&amp;lt;b&gt;'],
  ])('%s stays text', (text, safe) => {
    expect(markdownText(text)).toBe(safe);
  });

  test('walks tell what failed, and fold what passed', () => {
    const result = playSteps(policyText(), ['{ login: ann, lands: /safe }']);
    const { input } = project(policyText());
    if (input === null) throw new Error('no input');
    const failed = { ...result, walk: { ...result.walk, name: 'A <b> walk' } };
    const passed = { ...result, passed: true };
    const text = walksMarkdown({ results: [failed, passed], app: 'Test', input });
    expect(text).toMatch(
      /^### 1 of 2 walks of Test failed\n\n\*\*A &lt;b&gt; walk\*\*\n\n- login ann: expects lands .*\n[^]*<details>[^]*- test\n/,
    );
  });
});

test('where the terminal has hyperlinks, files lead to their lines', () => {
  const place = { source: sourceOf('a b.yaml', 'x\ny\n'), start: 2, end: 3 };
  const found = [{ ...problem('no-file', { file: 'x' }, place) }];
  const linkTo = (file: string, line: number) => `file:///here/${encodeURIComponent(file)}#${line}`;
  expect(diagnosticsText(found, { ...PLAIN, linkTo })).toContain(
    '\u001b]8;;file:///here/a%20b.yaml#2\u001b\\a b.yaml:2:1\u001b]8;;\u001b\\',
  );
  expect(diagnosticsText(found, PLAIN)).not.toContain('\u001b');
});

describe('a walk in words', () => {
  const told = (steps: readonly string[]) =>
    walkInWords(playSteps(TOKENS, steps).steps.map(({ step }) => step));
  const TOKENS = policyText({
    login: 'login: { page: /in, submit: POST /in, by: both }',
    more: 'tokens: { access: { life: 5m }, submit: POST /token }',
  });
  test.each([
    [
      [
        'login: ann',
        'copy: { what: session, to: thief }',
        ...Array<string>(3).fill('{ in: thief, visit: /hall }|wait: 20m').join('|').split('|'),
        '{ in: thief, visit: /desk }',
      ],
      'ann logs in, a thief copies the session cookie, the thief keeps visiting every 20m and is still let in at /desk',
    ],
    [
      [
        'login: ann',
        'copy: { what: access, to: thief }',
        'logout:',
        'wait: 4m',
        '{ in: thief, send: GET /desk }',
      ],
      'ann logs in, a thief copies the access token, ann logs out and 4m later the thief still gets an answer to GET /desk',
    ],
    [
      ['login: ann', 'set-roles: { as: ann, roles: [] }', 'wait: 1m', 'visit: /desk'],
      'ann logs in, all roles of ann are taken away and 1m later ann is still let in at /desk',
    ],
    [
      ['login: ann', 'suspend: ann', 'visit: /'],
      'ann logs in, ann is suspended and ann is still let in at /',
    ],
  ])('%j', (steps, words) => {
    expect(told(steps)).toBe(words);
  });
});
