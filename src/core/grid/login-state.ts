import { lifeBy } from '../language/session-lives.js';
import type { AppState } from '../app/app.js';
import { withAccount } from '../app/administration.js';
import { isActedFor, mayAct } from '../app/acting.js';
import { takes } from '../app/logins.js';
import { initialState } from '../app/app.js';
import { RIGHT_CODE } from '../app/second-factor.js';
import { knownToScript } from '../browser/script.js';
import { NEW_BROWSER, type BrowserState, type Deed } from '../browser/state.js';
import { holdingsOf } from '../credentials/panel.js';
import { FixedClock } from '../time/clock.js';
import { handedOut } from '../vocabulary/credentials.js';
import type { Seconds } from '../time/duration.js';
import type { Account, Login, Policy } from '../language/policy.js';
import { play, requestDeed, type Played, type Stage } from '../play/stage.js';
import { send } from '../steps/send.js';
import type { Method } from '../http/messages.js';

/** What has become of somebody's login. */
export const CONDITIONS = [
  'signed-in',
  'code-owed',
  'by-provider',
  'acting',
  'access-expired',
  'idle-expired',
  'absolute-expired',
  'all-expired',
  'signed-out',
  'suspended',
  'removed',
] as const;
export type Condition = (typeof CONDITIONS)[number];
/** What the owner of an app does to whoever is not to come in any more: each kind of person is tried so. */
export const SHUT_OUT: readonly Condition[] = ['suspended', 'removed'];

/** Somebody in front of a browser at an instant, with what app and browser hold. */
export interface LoginState {
  /** The account that logged in; null for a guest. */
  readonly account: string | null;
  readonly condition: Condition | null;
  readonly state: AppState;
  readonly browser: BrowserState;
  /** Seconds since the login. */
  readonly time: Seconds;
  /** Whether it is a machine with its key, which has no browser; left out for people. */
  readonly isMachine?: true;
  /** The account that was taken away, whose pages are still tried; left out for one that is there. */
  readonly removed?: Account;
}

export interface GridState {
  readonly name: string;
  /** What has become of the login; null for nothing, or for what is no condition of a login. */
  readonly condition: Condition | null;
  /** Other accounts of the same kind, for which it stands too. */
  readonly alike: readonly string[];
}

/** A state with what it takes to try pages in it. */
export interface TriedState extends GridState {
  readonly login: LoginState;
}

/** Somebody who has never logged in. */
export function guestState(policy: Policy): LoginState {
  return { account: null, condition: null, state: initialState(policy), browser: NEW_BROWSER, time: 0 };
}

/** An account in good standing as it makes its requests: somebody signed in, or a machine with its key; null where nobody can be. */
export function asItself(stage: Stage, account: Account): LoginState | null {
  if (!account.key) return reach(stage, account, 'signed-in');
  return { ...guestState(stage.app.policy), account: account.name, condition: 'signed-in', isMachine: true };
}

/**
 * Whether somebody's browser has anything that the app still counts, or takes for half a login; or a token by which script still
 * lets them see pages that it guards.
 */
export function holdsAnything(stage: Stage, { state, browser, time }: LoginState): boolean {
  const { pages, rules } = stage.app.policy;
  const clock = new FixedClock(time);
  return (
    holdingsOf(stage, state, browser, time).some(
      ({ counts, because }) => counts || because === 'code-needed',
    ) ||
    ([...pages, ...rules].some(({ guard }) => guard === 'browser') &&
      knownToScript(stage.client, browser, clock).account !== null)
  );
}

/** Lets somebody in a login state ask for an address. */
export function askAs(stage: Stage, who: LoginState, method: Method, address: string): Played {
  if (who.isMachine !== true || who.account === null) {
    return doAs(stage, who, requestDeed(stage, method, address));
  }
  const { state, browser, time } = who;
  const key = { account: who.account, isOld: false };
  const here = { state, browser, other: browser, clock: new FixedClock(time) };
  const came = send.play(stage, here, { verb: 'send', method, address, from: null, key });
  if (typeof came === 'string') throw new Error(came);
  return came.played;
}

/** A login state as people name it: `guest`, `tomas`, `tomas idle-expired`. */
export function stateName({ account, condition }: Pick<LoginState, 'account' | 'condition'>): string {
  if (account === null) return 'guest';
  return condition === null || condition === 'signed-in' ? account : `${account} ${condition}`;
}

/**
 * Brings an account's login into a condition, by playing it; null where the policy cannot bring it about.
 *
 * @param by the login to come in by, where it is not the first that takes the account
 */
export function reach(
  stage: Stage,
  account: Account,
  condition: Condition,
  by: Login | null = null,
): LoginState | null {
  const { policy } = stage.app;
  const half = logIn(stage, account, by);
  if (half === null) return null;
  const owes = half.state.sessions.at(-1)?.half === true;
  if (condition === 'code-owed') return owes ? { ...half, condition } : null;
  const whole = owes ? giveCode(stage, half) : half;
  if (whole === null) return null;
  const at = (time: Seconds | null): LoginState | null =>
    time === null ? null : { ...whole, condition, time };
  switch (condition) {
    case 'signed-in':
      return at(0);
    case 'idle-expired':
      return at(handsOut(policy, 'session') ? lifeBy('idle', policy, account.roles) : null);
    case 'absolute-expired':
      return at(handsOut(policy, 'session') ? lifeBy('absolute', policy, account.roles) : null);
    case 'access-expired': {
      const { tokens } = policy;
      const known = tokens !== null && tokens.refresh !== null && handsOut(policy, 'access');
      return at(known ? tokens.access.life + tokens.access.leeway : null);
    }
    case 'all-expired':
      return at(lastEnd(policy, account));
    case 'by-provider':
      return byProvider(stage, account);
    case 'acting':
      return acting(stage, whole, account);
    case 'signed-out':
      return policy.logout === null ? null : after(whole, condition, doAs(stage, whole, { deed: 'log-out' }));
    case 'suspended': {
      const accounts = new Map(whole.state.accounts).set(account.name, { ...account, state: 'suspended' });
      return { ...whole, condition, state: { ...whole.state, accounts } };
    }
    case 'removed':
      return {
        ...whole,
        condition,
        state: withAccount(whole.state, account.name, () => null),
        removed: account,
      };
  }
}

/** Somebody who came in by the first identity provider that knows them; null where none does, or the code is owed all the same. */
function byProvider(stage: Stage, { name }: Account): LoginState | null {
  const guest = guestState(stage.app.policy);
  const provider = stage.app.policy.providers.find(({ knows }) => knows.has(name));
  if (provider === undefined) return null;
  const fill = { form: `with ${provider.name}`, fields: new Map([['person', name]]) } as const;
  const played = doAs(stage, guest, { deed: 'fill-in', fill });
  const isIn = played.exchanges.some(({ explanation }) => explanation.seenAs === name);
  if (!isIn) return null;
  return { ...guest, account: name, condition: 'by-provider', state: played.state, browser: played.browser };
}

/** Somebody who acts for the first account that they may act for; null where there is none. */
function acting(stage: Stage, who: LoginState, { name, roles }: Account): LoginState | null {
  const { impersonation, accounts } = stage.app.policy;
  if (impersonation === null || !mayAct(impersonation, roles)) return null;
  const other = [...accounts.values()].find((each) => each.name !== name && isActedFor(impersonation, each));
  if (other === undefined) return null;
  const { method, path } = impersonation.start;
  const played = askAs(
    stage,
    who,
    method,
    path.replace(/:[^/]+/, encodeURIComponent(other.name.toWellFormed())),
  );
  const isActing = played.exchanges.some(({ explanation }) => explanation.actedBy === name);
  return isActing ? { ...who, condition: 'acting', state: played.state, browser: played.browser } : null;
}

/** Lets somebody in a login state do something. */
export function doAs(stage: Stage, who: LoginState, deed: Deed): Played {
  return play(stage, who.state, who.browser, deed, new FixedClock(who.time));
}

function after(who: LoginState, condition: Condition, played: Played): LoginState {
  return { ...who, condition, state: played.state, browser: played.browser };
}

/** Logs an account in; one that the policy does not have is there for the time being. */
function logIn(stage: Stage, account: Account, by: Login | null): LoginState | null {
  const { name, password } = account;
  const form = (by ?? stage.app.policy.logins.find((each) => takes(each, account)))?.form ?? 'login';
  const fields = new Map([['account', name]]).set('password', password);
  const guest = guestState(stage.app.policy);
  const accounts = new Map(guest.state.accounts).set(name, account);
  const played = doAs(
    stage,
    { ...guest, state: { ...guest.state, accounts } },
    {
      deed: 'fill-in',
      fill: { form, fields },
    },
  );
  const known = played.exchanges.some(
    ({ explanation }) => explanation.seenAs === name || explanation.reason === 'code-needed',
  );
  return known
    ? { account: name, condition: null, state: played.state, browser: played.browser, time: 0 }
    : null;
}

function giveCode(stage: Stage, half: LoginState): LoginState | null {
  const fields = new Map([['code', RIGHT_CODE]]);
  const played = doAs(stage, half, { deed: 'fill-in', fill: { form: 'code', fields } });
  const known = played.exchanges.some(({ explanation }) => explanation.seenAs === half.account);
  return known ? { ...half, state: played.state, browser: played.browser } : null;
}

function handsOut(policy: Policy, what: 'session' | 'access'): boolean {
  return policy.login !== null && handedOut(policy).includes(what);
}

/** The second from which nothing that a login handed out counts any more; null where something always does. */
function lastEnd(policy: Policy, { roles }: Account): Seconds | null {
  const { tokens } = policy;
  const ends: (Seconds | null)[] = [];
  if (handsOut(policy, 'session')) {
    const limits = (['idle', 'absolute'] as const)
      .map((option) => lifeBy(option, policy, roles))
      .filter((limit) => limit !== null);
    ends.push(limits.length === 0 ? null : Math.min(...limits));
  }
  if (handsOut(policy, 'access') && tokens !== null) {
    ends.push(tokens.access.life + tokens.access.leeway);
    if (tokens.refresh !== null) ends.push(tokens.refresh.life);
  }
  const known = ends.filter((end) => end !== null);
  return known.length < ends.length || known.length < 2 ? null : Math.max(...known);
}
