import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FixedClock } from '../../../src/core/time/clock';
import { ALL_LAWS } from '../../../src/core/laws/all-laws';
import { expiryFinal } from '../../../src/core/laws/expiry-final';
import { honestRefresh } from '../../../src/core/laws/honest-refresh';
import { lawBookOf } from '../../../src/core/laws/law-book';
import type { View } from '../../../src/core/laws/law';
import { LAW_NAMES } from '../../../src/core/vocabulary/law-names';
import { NOTHING_YET } from '../../../src/core/laws/memory';
import { oneRetry } from '../../../src/core/laws/one-retry';
import type { StepResult } from '../../../src/core/walks/runner';
import { differences, playSteps, policyText, project } from '../../support/policies';
import { CASES } from './cases';

const broken = (parts: Parameters<typeof policyText>[0], steps: string[]) =>
  playSteps(policyText(parts), steps).steps.map((step) => step.broken);

describe.each(CASES)('%s', (law, bad, steps, seen, good) => {
  test(`is broken: ${seen}`, () => {
    const all = broken(bad, steps);
    // Nothing of it is seen before the last step.
    expect(
      all
        .slice(0, -1)
        .flat()
        .filter((breach) => breach.law === law),
    ).toEqual([]);
    expect(all.at(-1)?.map((breach) => `${breach.law}: ${breach.seen}`)).toContain(`${law}: ${seen}`);
  });

  test('holds under the nearest policy that keeps it', () => {
    expect(broken(good, steps).flat()).toEqual([]);
  });

  test('can be expected to be broken, and fails the walk once it holds', () => {
    const last = (steps.at(-1) ?? '').replace(/ *\}$/, ` , expect-broken: ${law} }`);
    const all = [...steps.slice(0, -1), last];
    const known = playSteps(policyText(bad), all);
    expect(known.steps.at(-1)?.broken.map((breach) => breach.law)).not.toContain(law);
    expect(differences(known)).toEqual([]);
    // What a step says by itself, such as that a link is taken, may be what the good policy refuses.
    const held = differences(playSteps(policyText(good), all)).filter(
      (each) => !each.includes(': step that '),
    );
    expect(held).toEqual([`${steps.length - 1}: expect-broken ${law} / held`]);
  });
});

describe('laws that the app cannot break by itself', () => {
  const text = policyText({
    login: 'login: { page: /in, submit: POST /in, by: both, attempts: { most: 5, within: 5m, pause: 5m } }',
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /api/a: { for: clerk, kind: api } }',
    more: 'tokens: { access: { life: 5m }, refresh: { life: 1h } }',
  });

  /** A step as it was played, looked at by the laws with something in it that did not happen. */
  function doctored(steps: string[], change: (view: View) => Partial<View>): View {
    const { stage } = project(text);
    const played = playSteps(text, steps);
    const last = played.steps.at(-1) as StepResult;
    const before = played.steps.at(-2)?.played ?? last.played;
    const view: View = {
      stage,
      book: lawBookOf(stage),
      action: last.step.action,
      browser: 'browser',
      before: before.state,
      from: before.browser,
      played: last.played,
      outcome: last.outcome,
      clock: new FixedClock(last.time),
      memory: NOTHING_YET,
    };
    return { ...view, ...change(view) };
  }

  test.each([
    ['a session past its idle limit', '{ visit: /desk }', 1800, 'a session past its idle limit opens /desk'],
    [
      'an access token past its end',
      '{ send: GET /api/a }',
      300,
      'an access token past its end opens /api/a',
    ],
  ])('expiry-final sees %s', (_what, step, seconds, seen) => {
    const steps = ['{ login: ann }', step];
    expect(expiryFinal.broken(doctored(steps, () => ({ clock: new FixedClock(seconds) })))?.seen).toContain(
      seen,
    );
    expect(expiryFinal.broken(doctored(steps, () => ({ clock: new FixedClock(seconds - 1) })))).toBeNull();
  });

  test('one-retry sees a second refresh for the same call', () => {
    const steps = ['{ login: ann }', '{ wait: 5m }', '{ send: GET /api/a }'];
    const twice = ({ played }: View) => ({
      played: { ...played, exchanges: [...played.exchanges, ...played.exchanges.slice(1)] },
    });
    expect(oneRetry.broken(doctored(steps, () => ({})))).toBeNull();
    expect(oneRetry.broken(doctored(steps, twice))?.seen).toBe('/api/a is refreshed for more than once');
  });

  test('honest-refresh sees a refresh token of one owner taken for stolen, and not one that was copied', () => {
    const steps = ['{ login: ann }', '{ wait: 5m }', '{ send: GET /api/a }'];
    const reused = ({ played }: View) => ({
      played: {
        ...played,
        exchanges: played.exchanges.map((each) =>
          each.purpose === 'refresh'
            ? { ...each, explanation: { ...each.explanation, reason: 'refresh-reused' as const } }
            : each,
        ),
      },
    });
    expect(honestRefresh.broken(doctored(steps, reused))?.seen).toContain('is taken for stolen');
    const copied = { ...NOTHING_YET, copied: new Set(['refresh-1']) };
    expect(honestRefresh.broken(doctored(steps, (view) => ({ ...reused(view), memory: copied })))).toBeNull();
  });
});

describe('return-kept', () => {
  const text = policyText({
    accounts: 'accounts: { di: { password: d-4, roles: [clerk], second-factor: true } }',
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /code: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in } }',
    more: 'second-factor: { page: /code, submit: POST /code, life: 5m, tries: 2 }',
  });

  test.each([
    ['a code that is right', ['{ login: di, lands: /code }', '{ code: right, lands: /hall }']],
    [
      'a code that came too late and the login after it',
      ['{ login: di, lands: /code }', '{ code: late }', '{ login: di }', '{ code: right, lands: /hall }'],
    ],
    [
      'codes that were wrong too often and the login after them',
      [
        '{ login: di }',
        ...Array<string>(2).fill('{ code: wrong }'),
        '{ login: di }',
        '{ code: right, lands: /hall }',
      ],
    ],
  ])('holds over %s', (_what, steps) => {
    const result = playSteps(text, ['{ visit: /hall }', ...steps]);
    expect(differences(result)).toEqual([]);
    expect(result.steps.flatMap((step) => step.broken)).toEqual([]);
  });

  test.each([
    ['by address', ['{ visit: /hall }', '{ visit: / }']],
    ['by going back', ['{ visit: /in }', '{ visit: /hall }', '{ back: }']],
  ])('asks nothing for a visitor who went to the bare form %s', (_how, before) => {
    const steps = [...before, '{ login: di }', '{ code: right, lands: /desk }'];
    const result = playSteps(text, steps);
    expect(differences(result)).toEqual([]);
    expect(result.steps.flatMap((step) => step.broken)).toEqual([]);
  });

  test('asks nothing of a login that another site fills in, nor of the code after it', () => {
    const open = text.replace(/^second-factor/m, 'csrf: { token: absent, origin: ignored }\nsecond-factor');
    const result = playSteps(open, [
      '{ visit: /hall }',
      '{ login: di, from: https://wreckers.example }',
      '{ code: right, lands: /desk }',
    ]);
    expect(differences(result)).toEqual([]);
    expect(result.steps.flatMap((step) => step.broken).map(({ law }) => law)).toEqual([]);
  });

  test.each([
    ['is led to what is open to the other', '/desk', '/desk'],
    ['is not led to what is closed meanwhile', '/hall', '/desk'],
    ['is not led to what the other may not see', '/safe', '/desk'],
  ])('somebody who still acts for another after the login %s', (_what, asked, lands) => {
    const acting = policyText({
      accounts: 'accounts: { ann: { password: a-1, roles: [clerk] }, bo: { password: b-2, roles: [chief] } }',
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in } }',
      more: "impersonation: { start: POST /as/:account, stop: POST /back, by: [chief], of: [clerk], kept: account, not: ['/hall/**'] }",
    });
    const result = playSteps(acting, [
      '{ login: bo }',
      '{ send: POST /as/ann }',
      '{ logout: }',
      `{ visit: ${asked} }`,
      `{ login: bo, lands: ${lands}, status: 200, seen-as: ann, acted-by: bo }`,
    ]);
    expect(differences(result)).toEqual([]);
    expect(result.steps.flatMap((step) => step.broken)).toEqual([]);
  });
});

describe('the list of laws', () => {
  const names = ALL_LAWS.map((law) => law.meta.name);

  test('has every law file of the folder, under its name, as the language knows it', () => {
    const machinery = [
      ...['all-laws', 'known-by', 'law', 'law-book', 'memory', 'owning', 'promises', 'remembering', 'shown'],
      ...['ways', 'once-per-step', 'left-behind', 'lost-cookies', 'password-changes'],
    ];
    const files = readdirSync(join(__dirname, '../../../src/core/laws')).map((name) =>
      name.replace('.ts', ''),
    );
    expect(files.filter((name) => !machinery.includes(name)).sort()).toEqual([...names].sort());
    expect(names).toEqual([...LAW_NAMES]);
  });

  test('has a case for each law that a policy can break', () => {
    const doctoredOnly = ['expiry-final', 'one-retry'];
    expect(new Set([...CASES.map(([law]) => law), ...doctoredOnly])).toEqual(new Set(names));
  });

  test('is what the documentation says', () => {
    const page = readFileSync(join(__dirname, '../../../docs/laws.md'), 'utf8');
    for (const { meta } of ALL_LAWS) expect(page).toContain(`| \`${meta.name}\` | ${meta.title} |`);
  });
});
