import { landingEntry } from '../app/landing.js';
import { takes } from '../app/logins.js';
import { refusalPlace } from '../app/refusal-place.js';
import type { BrowserState } from '../browser/state.js';
import { addressFor, cellAt, cellOf, presentOfRoles, statesOfRoles } from '../grid/grid.js';
import { askAs, doAs, guestState, reach, type LoginState, type TriedState } from '../grid/login-state.js';
import type { Path } from '../language/text/yaml-text.js';
import { sampleAddress } from '../paths/coverage.js';
import { stageOf, type Stage } from '../play/stage.js';
import type { Page, Policy } from '../language/policy.js';
import { plainStep } from '../steps/walk.js';
import { playSteps } from '../walks/runner.js';

/** What brings somebody somewhere without their having asked for it. */
export type Way = 'login' | 'sign-up' | 'the login page again' | 'sent on' | 'refusal' | 'logout' | 'barrier';

/** Where somebody ends up by one way. */
export interface Landing {
  /** `guest`, a role, `without a role`, `newcomer`, or a state that a barrier stops. */
  readonly who: string;
  readonly way: Way;
  /** The page that is asked for, or that of the login where there are several; null elsewhere. */
  readonly from: string | null;
  /** The path of a page, or a status. */
  readonly to: string;
  /** Where the policy says so, or would: what it leaves out is so by default; null where nothing says so. */
  readonly at: Path | null;
}

/** What a refusal comes to; that there is no such page or method refuses nobody. */
const REFUSED = /^(?:\/|401$|403$)/;

/** Where everybody lands: each is found by doing it. Landings of one person, way and target come once. */
export function landingMap(policy: Policy): Landing[] {
  const stage = stageOf(policy);
  const present = presentOfRoles(stage);
  const names = new Set(present.map(({ name }) => name));
  const others = statesOfRoles(stage).filter(({ name, condition }) => condition === null && !names.has(name));
  const found = [
    ...present.flatMap((state) => landingsOf(stage, state)),
    ...newcomers(stage),
    ...others.flatMap((state) => stoppedOf(stage, state)),
  ];
  const seen = new Map<string, Landing>();
  for (const each of found) {
    const key = JSON.stringify([each.who, each.way, each.to, each.way === 'login' ? each.from : null]);
    if (!seen.has(key)) seen.set(key, each);
  }
  return [...seen.values()];
}

const roleless = (name: string) => name.replace(/^role /, '');

/** Where barriers send somebody whom they stop. */
function stoppedOf(stage: Stage, { name, login }: TriedState): Landing[] {
  const { pages, barriers } = stage.app.policy;
  return pages.flatMap((page) => {
    const to = cellAt(stage, login, 'GET', addressOf(page));
    const stops = barriers.find(({ sends, answers }) => to === sends || to === String(answers ?? ''));
    const from = page.pattern.text;
    return stops === undefined
      ? []
      : [{ who: roleless(name), way: 'barrier' as const, from, to, at: stops.at }];
  });
}

function landingsOf(stage: Stage, { name, login }: TriedState): Landing[] {
  const { policy } = stage.app;
  const who = roleless(name);
  const isIn = login.account !== null;
  const to = (way: Way, target: string | null, from: string | null = null, at: Path | null = null) =>
    target === null ? [] : [{ who, way, from, to: target, at }];
  return [
    ...loginsOf(stage, login).flatMap(({ by, landed, at }) =>
      to('login', landed, policy.logins.length > 1 ? by.page : null, at),
    ),
    ...policy.logins.flatMap(({ page, at }) => {
      const cell = isIn ? cellAt(stage, login, 'GET', page) : page;
      return cell === 'shown' || !isIn ? [] : to('the login page again', cell, page, at);
    }),
    ...policy.pages.flatMap((page) => {
      if (page.forward === null || !isIn) return [];
      const cell = cellOf(stage, login, page, 'GET', null);
      return cell.startsWith('/') ? to('sent on', cell, page.pattern.text, page.forward.at) : [];
    }),
    ...policy.pages.flatMap((page) => {
      if (page.forward !== null || isForGuests(stage, page)) return [];
      const cell = cellOf(stage, login, page, 'GET', null);
      if (!REFUSED.test(cell)) return [];
      return to('refusal', cell, page.pattern.text, placeOfRefusal(stage, login, page));
    }),
    ...(isIn && policy.logout !== null
      ? to('logout', shownAt(doAs(stage, login, { deed: 'log-out' }).browser), null, [
          ...policy.logout.at,
          'lands',
        ])
      : []),
  ];
}

/** Where somebody lands by each login that takes them. */
function loginsOf(stage: Stage, { account, state }: LoginState) {
  const known = state.accounts.get(account ?? '');
  if (known === undefined) return [];
  return stage.app.policy.logins
    .filter((by) => takes(by, known))
    .map((by) => {
      const login = reach(stage, known, 'signed-in', by);
      const at = landingEntry(stage.app.policy, known, by)?.at ?? null;
      return { by, landed: login === null ? null : shownAt(login.browser), at };
    });
}

/** The path that a browser shows, or the status of the refusal that it shows. */
function shownAt({ tab: { page } }: BrowserState): string | null {
  if (page === null) return null;
  return page.status >= 400 ? String(page.status) : page.address.path;
}

/** Where the policy says what becomes of whoever is refused at a page: the page itself, the rule that covers it, or all. */
function placeOfRefusal(stage: Stage, login: LoginState, page: Page): Path {
  const address = addressFor(stage, login, page, 'GET', null);
  const refused = askAs(stage, login, 'GET', address).exchanges.find(
    ({ explanation }) => explanation.reason !== 'served',
  );
  const { reason, seenAs } = refused?.explanation ?? { reason: 'role', seenAs: login.account };
  const route = stage.app.router.find('GET', address);
  return route === null ? ['refusals'] : refusalPlace(route, reason, seenAs === null);
}

/** Pages for guests send everybody else on: that is told as the login page again. */
function isForGuests(stage: Stage, page: Page): boolean {
  const route = stage.app.router.find('GET', addressOf(page));
  return (page.audiences.read?.audience ?? route?.grounds.audience)?.who === 'guests';
}

function addressOf({ pattern }: Page): string {
  return sampleAddress(pattern, () => 'x');
}

/** Where somebody lands who signs up. */
function newcomers(stage: Stage): Landing[] {
  const { signUp } = stage.app.policy;
  if (signUp === null) return [];
  let account = 'newcomer';
  while (guestState(stage.app.policy).state.accounts.has(account)) account += 'x';
  const played = playSteps(stage, [
    plainStep('browser', { verb: 'sign-up', account, password: 'a password' }),
  ]);
  const page = played.steps.at(-1)?.played.browser.tab.page?.address.path;
  return page === undefined
    ? []
    : [{ who: 'newcomer', way: 'sign-up', from: signUp.page, to: page, at: signUp.at }];
}
