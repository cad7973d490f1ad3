import { cellAt, presentOfRoles, statesOfRoles } from '../grid/grid.js';
import { doAs, guestState, type TriedState } from '../grid/login-state.js';
import { isBoundToPath } from '../language/stated.js';
import type { Path } from '../language/yaml-text.js';
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
  /** The page that is left or asked for, where it matters; null elsewhere. */
  readonly from: string | null;
  /** The path of a page, or a status. */
  readonly to: string;
  /** Where the policy says so; null where several places do. */
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
    const key = JSON.stringify([each.who, each.way, each.to]);
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
  const landed = login.browser.tab.page?.address.path ?? null;
  const isIn = login.account !== null;
  const to = (way: Way, target: string | null, from: string | null = null, at: Path | null = null) =>
    target === null ? [] : [{ who, way, from, to: target, at }];
  return [
    ...(isIn ? to('login', landed, null, ['landing']) : []),
    ...policy.logins.flatMap(({ page, at }) => {
      const cell = isIn ? cellAt(stage, login, 'GET', page) : page;
      return cell === 'shown' || !isIn ? [] : to('the login page again', cell, page, at);
    }),
    ...policy.pages.flatMap((page) => {
      if (page.forward === null || !isIn) return [];
      const cell = cellAt(stage, login, 'GET', addressOf(page));
      return cell.startsWith('/') ? to('sent on', cell, page.pattern.text, page.forward.at) : [];
    }),
    ...policy.pages.flatMap((page) => {
      if (page.forward !== null || isOfGuests(stage, page)) return [];
      const cell = cellAt(stage, login, 'GET', addressOf(page));
      return REFUSED.test(cell) ? to('refusal', cell, page.pattern.text, ['refusals']) : [];
    }),
    ...(isIn && policy.logout !== null
      ? to('logout', doAs(stage, login, { deed: 'log-out' }).browser.tab.page?.address.path ?? null, landed, [
          ...policy.logout.at,
          'lands',
        ])
      : []),
  ];
}

/** Pages that guests alone may see send everybody else on: that is told as the login page again. */
function isOfGuests({ app }: Stage, { audiences, pattern }: Page): boolean {
  const audience =
    audiences.read?.audience ??
    app.router.find(
      'GET',
      sampleAddress(pattern, () => 'x'),
    )?.grounds.audience;
  return audience?.who === 'guests' || (audience !== undefined && isBoundToPath(audience));
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
