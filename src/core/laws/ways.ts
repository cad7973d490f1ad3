import { admit } from '../app/admit.js';
import type { AppState } from '../app/app.js';
import { GUEST, type Identity } from '../app/identify.js';
import { takes } from '../app/logins.js';
import type { Reason } from '../app/reasons.js';
import type { BrowserState } from '../browser/state.js';
import { livesBy } from '../language/session-lives.js';
import { LaterClock, type Clock } from '../time/clock.js';
import { isSafe, METHODS } from '../http/messages.js';
import type { Account, Barrier, Policy } from '../language/policy.js';
import { sampleAddress } from '../paths/coverage.js';
import { deedOf, type PersonAction } from '../steps/all-steps.js';
import { play, requestDeed, type Exchange, type Stage } from '../play/stage.js';
import { letsIn } from '../play/entries.js';
import { isThere } from '../steps/asking.js';

/** App and browser where somebody sets out. */
export interface SettingOut {
  readonly stage: Stage;
  readonly state: AppState;
  readonly browser: BrowserState;
  readonly clock: Clock;
}

/** Whether somebody can log in to an account by what they may do: at once, after logging out, or after the longest pause. */
export function canLogIn(from: SettingOut, account: Account): boolean {
  return anyWay(from, account, () => true);
}

/**
 * Whether somebody can come to what a request asks for, by what they may do: give the code, log in, log out and in again, wait
 * for the longest pause that the policy names.
 */
export function canReach(from: SettingOut, account: Account, { request }: Exchange): boolean {
  const isShownBy = (at: SettingOut): boolean => {
    const deed = requestDeed(at.stage, request.method, request.path + request.query);
    const { exchanges } = play(at.stage, at.state, at.browser, deed, at.clock);
    return exchanges.some(
      // What was served may send on: after a write, or to a page of somebody's own.
      ({ explanation, request: made, visitor }) =>
        made.path === request.path && SERVED.has(explanation.reason) && visitor.account === account.name,
    );
  };
  const coded = taken(from, { verb: 'code', given: 'right' });
  return (coded !== null && isShownBy(coded)) || anyWay(from, account, isShownBy);
}

const SERVED: ReadonlySet<Reason> = new Set(['served', 'forwarded']);

/** Whether somebody passes a barrier by something that they may write: to a page that gives them facts, or by a form of their own. */
export function canPass(from: SettingOut, barrier: Barrier, account: string): boolean {
  const { stage, state, browser, clock } = from;
  return writesOf(stage).some((action) => {
    const deed = deedOf(stage, state, browser, action);
    if (typeof deed === 'string') return false;
    const after = play(stage, state, browser, deed, clock).state;
    const facts = after.accounts.get(account)?.facts;
    if (facts === undefined || facts === state.accounts.get(account)?.facts) return false;
    return admit(barrier.stops.audience, known(after, account, clock), NO_PARAMETERS, clock) !== 'served';
  });
}

const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();

/** Somebody who has come in with all that their login can give. */
function known({ accounts, joined, flags }: AppState, name: string, clock: Clock): Identity {
  const account = accounts.get(name);
  return {
    ...GUEST,
    account: name,
    roles: account?.roles ?? GUEST.roles,
    facts: account?.facts ?? GUEST.facts,
    by: 'session',
    secondFactor: true,
    since: clock.now,
    joinedAt: joined.get(name) ?? null,
    flags,
  };
}

/** What people write that gives them facts. */
function writesOf({ app: { policy, router } }: Stage): PersonAction[] {
  return policy.pages.flatMap(({ pattern, sets }): PersonAction[] => {
    if (sets === null) return [];
    const address = sampleAddress(pattern, () => 'x');
    return WRITES.flatMap((method): PersonAction[] => {
      const task = router.find(method, address)?.task ?? null;
      if (task === 'change-password') return [{ verb: 'change-password', old: null, password: 'another' }];
      return task === null ? [{ verb: 'send', method, address, from: null }] : [];
    });
  });
}

const WRITES = METHODS.filter((method) => !isSafe(method));

function anyWay(from: SettingOut, account: Account, isThere: (at: SettingOut) => boolean): boolean {
  const after = pauseOf(from.stage.app.policy);
  const later = after === 0 ? [] : [{ ...from, clock: new LaterClock(from.clock, after) }];
  return [from, ...later].some((start) => {
    const out = taken(start, { verb: 'logout' });
    return [start, ...(out === null ? [] : [out])].some((at) => {
      const inside = loggedIn(at, account);
      return inside !== null && isThere(inside);
    });
  });
}

/** The longest pause that a policy names; where the first login wins, sessions that nobody uses end by themselves too. */
function pauseOf(policy: Policy): number {
  const { logins, session } = policy;
  const idle = session['at-once'] === 'first-wins' ? livesBy('idle', policy) : [];
  return Math.max(0, ...logins.map(({ attempts }) => attempts?.pause ?? 0), ...idle.map((life) => life ?? 0));
}

/** The same after a login that lets the account in, with the code where one is asked for; null where it does not. */
function loggedIn(from: SettingOut, account: Account): SettingOut | null {
  const { name, password } = account;
  const login: PersonAction = {
    verb: 'login',
    account: name,
    password,
    passwordGiven: false,
    isWrong: false,
    role: null,
    remember: false,
    at: from.stage.app.policy.logins.find((each) => takes(each, account))?.name ?? null,
    with: null,
    from: null,
  };
  const tried = played(from, login);
  if (tried === null) return null;
  const owes = tried.exchanges.some(({ explanation }) => explanation.reason === 'code-needed');
  const last = owes ? played(tried.at, { verb: 'code', given: 'right' }) : tried;
  return last?.exchanges.some((each) => letsIn(each) && each.explanation.seenAs === name) === true
    ? last.at
    : null;
}

function taken(from: SettingOut, action: PersonAction): SettingOut | null {
  return played(from, action)?.at ?? null;
}

function played(from: SettingOut, action: PersonAction) {
  const { stage, state, browser, clock } = from;
  if (!isThere(stage.app.policy, action)) return null;
  const deed = deedOf(stage, state, browser, action);
  if (typeof deed === 'string') return null;
  const { exchanges, ...after } = play(stage, state, browser, deed, clock);
  return { exchanges, at: { stage, clock, state: after.state, browser: after.browser } };
}
