import fc from 'fast-check';
import { formatDuration, LONGEST_DAYS, parseDuration } from '../../../src/core/time/duration';
import { PROBLEMS } from '../../../src/core/language/text/problems';
import { lineText, positionOf, sourceOf } from '../../../src/core/language/text/source';
import { nearest } from '../../../src/core/language/text/suggestions';
import { harbour, policyText, project } from '../../support/policies';

describe('durations', () => {
  test.each([
    ['45s', 45],
    ['30m', 1800],
    ['1h30m', 5400],
    ['14d', 1_209_600],
    ['1d1h1m1s', 90_061],
    ['0s', 0],
    [`${LONGEST_DAYS}d`, LONGEST_DAYS * 86_400],
  ])('%s is %i seconds', (text, seconds) => {
    expect(parseDuration(text)).toBe(seconds);
  });

  test.each([
    '',
    '5',
    '5x',
    '30m1h',
    '1m1m',
    '1.5h',
    ' 5m',
    '5 m',
    '-5m',
    `${LONGEST_DAYS}d1s`,
    '99999999999999d',
  ])('"%s" is refused in words', (text) => {
    expect(parseDuration(text)).toEqual(expect.stringContaining('duration'));
  });

  test('what is written is read back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: LONGEST_DAYS * 86_400 }), (seconds) => {
        expect(parseDuration(formatDuration(seconds))).toBe(seconds);
      }),
    );
  });
});

describe('positions', () => {
  test('every offset of a text is in the line and column where it stands', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('a', '\n', '\r', '\r\n', 'é') }), (text) => {
        const source = sourceOf('x', text);
        const lines = text.split(/\r\n|\n|\r/);
        expect(source.lineStarts).toHaveLength(lines.length);
        expect(lines.map((_line, at) => lineText(source, at + 1))).toEqual(lines);
        expect(positionOf(source, text.length)).toEqual({
          line: lines.length,
          column: (lines.at(-1)?.length ?? 0) + 1,
        });
      }),
    );
  });
});

describe('names that were probably meant', () => {
  test.each([
    ['bursarr', 'bursar'],
    ['roless', 'roles'],
    ['ROLES', 'roles'],
    ['signedin', null],
    ['x'.repeat(1000), null],
  ])('%.20s: %s', (name, expected) => {
    expect(nearest(name, ['bursar', 'roles', 'tokens'])).toBe(expected);
  });
});

describe('the meaning of what is left out', () => {
  test('is careful where it is a way of behaving, and nothing where it is a limit', () => {
    const { policy } = project(
      'cavrin: 1\napp: x\norigin: https://a.example:443/\nlogin: { page: /in, submit: POST /in, return: {} }\nlogout: { submit: POST /out }\n',
    );
    expect(policy).toMatchObject({
      origin: 'https://a.example',
      otherwise: { who: 'signed-in' },
      login: {
        wrong: '/in',
        by: 'session',
        return: { param: 'back', accept: 'same-origin', onlyIfAllowed: true },
      },
      logout: {
        lands: [{ to: '/' }],
        of: 'login',
        clears: new Set(['session']),
        ends: new Set(['session']),
      },
      session: {
        idle: null,
        absolute: null,
        renews: 'each-request',
        kept: 'store',
        roles: 'each-request',
        cookie: { secure: true, httpOnly: true, sameSite: 'lax', life: null },
      },
      tokens: null,
      refusals: { page: { guest: { to: 'login' } }, api: { guest: { to: 'status', status: 401 } } },
    });
  });

  test('an alias stands for what its anchor holds', () => {
    const { policy } = project(policyText({ pages: 'pages: { /: &open { for: everyone }, /x: *open }' }));
    expect(policy?.pages[1]?.audiences.read?.audience).toEqual({ who: 'everyone' });
  });

  test('JSON is read like YAML', () => {
    expect(
      project('{"cavrin":1,"app":"x","origin":"https://a.example","pages":{"/":{"for":"everyone"}}}').policy
        ?.pages,
    ).toHaveLength(1);
  });
});

test('every problem names its remedy or needs none, in a sentence without position', () => {
  expect(Object.keys(PROBLEMS).length).toBeGreaterThan(30);
  for (const code of Object.keys(PROBLEMS)) expect(code).toMatch(/^[a-z]+(-[a-z]+)*$/);
});

test('the harbour example has nothing wrong', () => {
  expect(harbour().walks.length).toBeGreaterThanOrEqual(15);
});
