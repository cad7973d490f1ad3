import fc from 'fast-check';
import { initialState } from '../../../src/core/app/app';
import { NEW_BROWSER, type BrowserState } from '../../../src/core/browser/state';
import { playStep } from '../../../src/core/walks/runner';
import { NOTHING_EXPECTED, type Step } from '../../../src/core/steps/walk';
import type { Action } from '../../../src/core/steps/all-steps';
import { DEADLINES } from '../../../src/core/vocabulary/deadlines';
import { harbour } from '../../support/policies';

/** A value in full, as text. */
function written(value: unknown): string {
  return JSON.stringify(value, (_key, inner: unknown) =>
    inner instanceof Map || inner instanceof Set ? [...(inner as Iterable<unknown>)] : inner,
  );
}

describe('any sequence of steps', () => {
  const { stage } = harbour();
  const account = fc.constantFrom('ines', 'tomas', 'petra', 'wanda', 'otto');
  const address = fc.oneof(
    fc.constantFrom(
      '/',
      '/sign-in',
      '/berths/7',
      '/ledger',
      '/office',
      '/boats/ines',
      '/api/ledger',
      '/nowhere',
      '//x.example',
      '/sign-in?back=//x.example',
      '/%2f',
    ),
    fc.webPath().map((path) => `/${path}`),
  );
  const password = fc.constantFrom('gull-29', 'kelp-31', 'tide-40', 'buoy-57', 'wrong');
  const action: fc.Arbitrary<Action> = fc.oneof(
    address.map((each) => ({ verb: 'visit' as const, address: each, from: null })),
    fc
      .tuple(fc.constantFrom('GET', 'POST', 'DELETE', 'HEAD'), address)
      .map(([method, each]) => ({ verb: 'send' as const, method, address: each, from: null })),
    fc.tuple(account, password).map(([name, word]) => ({
      verb: 'login' as const,
      account: name,
      password: word,
      passwordGiven: true,
      at: null,
      with: null,
      isWrong: true,
      role: null,
      remember: false,
      from: null,
    })),
    fc.constantFrom<Action>(
      ...(['logout', 'reload', 'new-tab', 'close-tab', 'close-browser', 'open-browser'] as const).map(
        (verb) => ({ verb }),
      ),
      { verb: 'back', pages: 1 },
      { verb: 'back', pages: 2 },
      { verb: 'clear-cookies', name: null },
      { verb: 'restart-app' },
      { verb: 'suspend', account: 'ines' },
      { verb: 'delete-account', account: 'tomas' },
      { verb: 'set-roles', account: 'petra', roles: ['skipper'] },
      { verb: 'set-password', account: 'wanda', password: 'x' },
      { verb: 'copy', what: 'session', to: 'two' },
      { verb: 'code', given: 'right' },
    ),
    fc
      .integer({ min: 0, max: 20_000 })
      .map((seconds) => ({ verb: 'wait' as const, until: { kind: 'duration' as const, seconds } })),
    fc
      .tuple(fc.constantFrom('past', 'short-of'), fc.constantFrom(...DEADLINES))
      .map(([kind, deadline]) => ({ verb: 'wait' as const, until: { kind, deadline } })),
  );
  const step: fc.Arbitrary<Step> = fc
    .tuple(action, fc.constantFrom('one', 'two', 'three'))
    .map(([each, browser]) => ({
      at: [],
      action: each,
      browser,
      connectsFrom: null,
      named: null,
      expectBroken: [],
      expects: NOTHING_EXPECTED,
    }));
  const steps = fc.array(step, { maxLength: 25 });

  /** Plays steps and shows each one, before the next, to whoever looks on. */
  function play(
    all: readonly Step[],
    look: (result: ReturnType<typeof playStep>, browsers: ReadonlyMap<string, BrowserState>) => void,
  ) {
    const browsers = new Map<string, BrowserState>();
    let state = initialState(stage.app.policy);
    let time = 0;
    for (const each of all) {
      const result = playStep(stage, state, browsers.get(each.browser) ?? NEW_BROWSER, each, time);
      look(result, browsers);
      ({ state } = result.played);
      ({ time } = result);
      browsers.set(each.browser, result.played.browser);
    }
  }

  test('comes to an end without a fault, and the clock never goes back', () => {
    fc.assert(
      fc.property(steps, (all) => {
        let last = 0;
        play(all, ({ time, played }) => {
          expect(time).toBeGreaterThanOrEqual(last);
          expect(played.exchanges.length).toBeLessThan(70);
          last = time;
        });
      }),
    );
  });

  test('gives results that depend on nothing but policy, state and instant, and changes none of what it is given', () => {
    fc.assert(
      fc.property(steps, step, fc.integer({ min: 0, max: 20_000 }), (before, next, time) => {
        let state = initialState(stage.app.policy);
        let browser = NEW_BROWSER;
        play(before, (result) => {
          ({ state, browser } = result.played);
        });
        const given = written({ state, browser });
        const first = playStep(stage, state, browser, next, time);
        expect(written({ state, browser })).toBe(given);
        const again = playStep(harbour().stage, state, browser, next, time);
        const all = (result: typeof first) => written([result, result.outcome.session, result.outcome.holds]);
        expect(all(again)).toBe(all(first));
      }),
      { numRuns: 60 },
    );
  });

  test('never makes a browser send what another was given', () => {
    fc.assert(
      fc.property(steps, (all) => {
        const owner = new Map<string, string>();
        play(all, ({ step: { browser }, played }) => {
          for (const { request, response } of played.exchanges) {
            const sent = [
              request.cookie.split('=')[1] ?? '',
              request.authorization.slice(7),
              request.form.get('refresh_token') ?? '',
            ];
            for (const credential of sent.filter((each) => each !== '')) {
              expect(owner.get(credential)).toBe(browser);
            }
            for (const header of response.setCookie) owner.set(header.split(/[=;]/)[1] ?? '', browser);
            if (response.body.kind !== 'tokens') continue;
            owner.set(response.body.accessToken, browser).set(response.body.refreshToken ?? '', browser);
          }
        });
      }),
    );
  });

  test('never shows a page to somebody outside its audience', () => {
    const readers: Record<string, string[]> = {
      '/ledger': ['petra', 'wanda'],
      '/office': ['wanda'],
      '/boats/ines': ['ines'],
    };
    fc.assert(
      fc.property(steps, (all) => {
        play(all, ({ outcome, played }) => {
          const allowed = readers[outcome.lands ?? ''];
          if (
            outcome.status !== 200 ||
            played.exchanges.at(-1)?.purpose !== 'navigate' ||
            allowed === undefined
          ) {
            return;
          }
          expect(allowed).toContain(outcome.seenAs);
        });
      }),
    );
  });
});
