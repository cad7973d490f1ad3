import { Doubt, type Doubted } from '../../../src/core/doubt/doubt';
import { mistakesIn } from '../../../src/core/doubt/mistakes';
import { nodesOf, valueAt, withValue } from '../../../src/core/doubt/edits';
import { sourceOf } from '../../../src/core/language/text/source';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { stageOf } from '../../../src/core/play/stage';
import { readProject } from '../../../src/core/walks/project';
import { playSteps } from '../../../src/core/walks/runner';
import { policyText, project, shipped } from '../../support/policies';

beforeAll(loadRegularLanguages);

type Parts = Parameters<typeof policyText>[0];

function doubt(steps: readonly string[], parts: Parts = {}, agreed: string | null = null): Doubt {
  const text = `walks:\n  - name: test\n    steps:\n${steps.map((step) => `      - ${step}\n`).join('')}`;
  const walkSources = steps.length === 0 ? [] : [sourceOf('walks/0.yaml', text)];
  const { policy, input, walks } = project(policyText(parts), steps.length === 0 ? [] : [text]);
  if (policy === null || input === null) throw new Error('no policy');
  const table = agreed === null ? null : ({ source: sourceOf('grid.csv', agreed), by: 'accounts' } as const);
  return new Doubt({ policy, input, walks, walkSources, agreed: table });
}

/** How one mistake is judged: who notices it, `same`, or the steps that tell the policies apart. */
function judged(of: Doubt, where: string, what: string): string | null {
  const mistake = of.mistakes.find((each) => each.where === where && each.what === what);
  if (mistake === undefined) {
    throw new Error(of.mistakes.map((each) => `${each.where}: ${each.what}`).join('\n'));
  }
  return words(of.judge(mistake));
}

function words(doubted: Doubted | null): string | null {
  if (doubted === null) return null;
  const { by, isSame, shows } = doubted;
  if (isSame) return 'same';
  return by.length > 0
    ? by.join(', ')
    : (shows?.steps.map(({ action }) => action.verb).join(' ') ?? 'nothing');
}

test('what is said of sessions comes to nothing where nobody has one', () => {
  const tokens = {
    login:
      'login: { page: /in, submit: POST /in, by: tokens, return: {}, attempts: { most: 5, within: 5m, pause: 5m } }',
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests, guard: browser }, /desk: { for: [clerk], kind: api } }',
    landing: 'landing: [{ otherwise: / }]',
    more: 'tokens: { access: { life: 5m } }',
  };
  expect(judged(doubt([], tokens), 'session idle', 'it is 1h, twice as long')).toBe('same');
  expect(judged(doubt([], {}), 'session idle', 'it is 1h, twice as long')).not.toBe('same');
});

test('a status that only programs see, and a second login, tell policies apart too', () => {
  const api =
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk], kind: api, write-status: 201 }, /safe: { for: [chief] } }';
  expect(judged(doubt([], { pages: api }), 'pages /desk write-status', 'it is left out')).toMatch(/send$/);
  const session = 'session: { idle: 30m, absolute: 8h, at-once: latest-wins }';
  expect(judged(doubt([], { session }), 'session at-once', 'it is any')).toBe('login login visit');
});

describe('mistakes', () => {
  test('of a small policy are those that people make, each once, and none of what is given', () => {
    const { policy, input } = project(
      'cavrin: 1\napp: Test\norigin: https://app.example\nroles: { clerk: [], chief: [] }\naccounts: { ann: { password: a, roles: [clerk] } }\n' +
        'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] } }\nrules: [{ path: /desk/**, for: [chief] }]\n' +
        'login: { page: /in, submit: POST /in }\nlanding: [{ role: clerk, to: /desk }, { otherwise: / }]\nsession: { idle: 30m }',
    );
    if (policy === null || input === null) throw new Error('no policy');
    const found = mistakesIn(policy, input.value).map(({ where, what }) => `${where}: ${what}`);
    expect(found).toEqual(
      expect.arrayContaining([
        'roles clerk: it includes chief too',
        'pages / for: it is for whoever is signed in',
        'pages /in for: it is for everyone',
        'pages /desk for: it is for chief too',
        'pages /desk for: it is for everybody who is signed in',
        'rules 1: it is left out',
        'rules 1 path: it covers only one level',
        'rules 1 path: it covers only the path itself',
        'landing: its entries 1 and 2 have changed places',
        'landing 1: it is left out',
        'landing 1 to: it leads to /',
        'session idle: it is 1h, twice as long',
        'session idle: it is 15m, half as long',
        'session idle: it is left out',
        'session cookie secure: it is false',
        'login renew-session-id: it is false',
        'back-button: it is cached',
        'otherwise: it is everyone',
      ]),
    );
    expect(new Set(found).size).toBe(found.length);
    expect(found.filter((each) => /^(?:accounts|app|origin|cavrin)/.test(each))).toEqual([]);
  });

  test('change what they say, and nothing else', () => {
    const value = { a: [{ b: 1 }, { b: 2 }], c: { d: [] } };
    expect(withValue(value, ['a', 1, 'b'], 3)).toEqual({ a: [{ b: 1 }, { b: 3 }], c: { d: [] } });
    expect(withValue(value, ['a', 0], undefined)).toEqual({ a: [{ b: 2 }], c: { d: [] } });
    expect(withValue(value, ['c', 'e', 'f'], 1)).toEqual({ a: value.a, c: { d: [], e: { f: 1 } } });
    expect(valueAt(value, ['c', 'constructor'])).toBeUndefined();
    expect([...nodesOf(value)].map(([path]) => path.join('.'))).toEqual([
      '',
      'a',
      'a.0',
      'a.0.b',
      'a.1',
      'a.1.b',
      'c',
      'c.d',
    ]);
  });
});

describe('a mistake', () => {
  const SEES = ['{ login: ann, lands: /desk }', '{ visit: /safe, status: 403 }'];
  test.each<[string, string, string, string, string[]]>([
    ['is noticed by the walk that looks there', 'pages /safe for', 'it is for clerk too', 'same', []],
    ['is noticed by walks', 'pages /safe for', 'it is for everybody who is signed in', 'walks', SEES],
    ['is not noticed without', 'pages /safe for', 'it is for everybody who is signed in', 'login visit', []],
    ['is noticed by check', 'login renew-session-id', 'it is false', 'check', []],
    ['in a landing is told by the login', 'landing 2 to', 'it leads to /', 'login', []],
    ['of time is told at the second', 'session idle', 'it is 1h, twice as long', 'login wait visit', SEES],
  ])('%s', (_, where, what, expected, steps) => {
    const parts = { roles: 'roles: { clerk: [], chief: [] }' };
    const of = doubt(steps, parts);
    if (expected === 'same') {
      expect(of.mistakes.map((each) => `${each.where}: ${each.what}`)).toContain(`${where}: ${what}`);
      return;
    }
    expect(judged(of, where, what)).toBe(expected);
  });

  test('is noticed by a table that was agreed on', () => {
    const table =
      'page,guest,ann,bo,cy\n/,shown,shown,shown,shown\n/in,shown,/desk,/safe,/\n/desk,/in,shown,shown,403\n/safe,/in,403,shown,403\n/hall,/in,shown,shown,shown\n';
    const of = doubt([], {}, table);
    expect(judged(of, 'pages /safe for', 'it is for everybody who is signed in')).toBe('grid');
    expect(judged(of, 'session idle', 'it is 1h, twice as long')).toBe('login wait visit');
  });

  test('is noticed by a promise, where neither check nor walks see it', () => {
    const promises = 'promises: [{ only: [chief], reach: [/safe] }]';
    const of = doubt([], { roles: 'roles: { clerk: [], chief: [] }', more: promises });
    expect(judged(of, 'pages /safe for', 'it is for clerk too')).toMatch(/check|laws and promises/);
  });

  test('that says the same in other words is told to', () => {
    const roles = 'roles: { clerk: [], chief: [clerk], cook: [] }';
    const of = doubt([], { roles });
    // Nothing asks for a cook, so that it does not matter who is one.
    expect(judged(of, 'roles clerk', 'it includes cook too')).toBe('same');
    // What is written is the default.
    const login =
      'login: { page: /in, submit: POST /in, return: {}, renew-session-id: true, attempts: { most: 5, within: 5m, pause: 5m } }';
    expect(judged(doubt([], { login }), 'login renew-session-id', 'it is left out')).toBe('same');
    expect(judged(doubt([], { login }), 'login renew-session-id', 'it is false')).toBe('check');
  });
});

test('every walk that is proposed comes out as it says, and fails where the policy is got wrong', () => {
  const { policy, input } = shipped('harbour');
  if (policy === null || input === null) throw new Error('no policy');
  const of = new Doubt({ policy, input, walks: [], walkSources: [], agreed: null });
  const stage = stageOf(policy);
  let [shown, judgedAtAll] = [0, 0];
  for (const mistake of of.mistakes) {
    const doubted = of.judge(mistake);
    judgedAtAll += doubted === null || doubted.isSame ? 0 : 1;
    if (doubted === null || doubted.shows === null) continue;
    const { steps } = doubted.shows;
    const wrong = readProject(
      sourceOf('cavrin.yaml', JSON.stringify(withValue(input.value, mistake.at, mistake.next))),
      [],
    ).policy;
    if (wrong === null) throw new Error('it was read before');
    const name = `${mistake.where}: ${mistake.what}`;
    expect([name, playSteps(stage, steps).passed]).toEqual([name, true]);
    expect([name, playSteps(stageOf(wrong), steps).passed]).toEqual([name, false]);
    shown += 1;
  }
  expect(shown).toBeGreaterThan(60);
  expect(judgedAtAll).toBeGreaterThan(150);
});
