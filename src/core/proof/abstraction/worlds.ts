// Step 4 of docs/proof-method.md: taking situations apart.

import { handle, type AppState } from '../../app/app.js';
import { pathOf } from '../../app/endpoints.js';
import { matches, parametersOf, segmentsOf } from '../../paths/pattern.js';
import { linkCookie } from '../../app/link-login.js';
import { handedOutIn } from '../../app/own-cookies.js';
import { storeCookies } from '../../browser/cookie-jar.js';
import { NEW_BROWSER } from '../../browser/state.js';
import { type Instant, instantOf } from '../../time/clock.js';
import type { Account, Policy } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { sameFacts } from '../../app/classes.js';
import { accountsInUse } from '../situations/records.js';
import { withRoles } from '../../app/administration.js';
import { owesByRole } from '../../language/people-reader.js';
import { furtherChanges, isTried } from '../choices/account-changes.js';
import { factSets } from '../choices/fact-changes.js';
import { roleChanges } from '../choices/role-changes.js';
import { isOnlyChanged } from '../choices/open-moves.js';
import { NEWCOMER, type Cast } from '../choices/cast.js';
import type { Move } from '../situations/moves.js';
import type { Situation } from '../situations/situation.js';
import { entrantOf, eventOf, codeOf, linkOf, requestOf } from '../../steps/asking.js';
import { type Asked, type SentLink } from '../../steps/step-kind.js';

/**
 * The situations in which a move is to be tried in a part of the whole: the part itself, and where the move asks for something
 * that was left open there, each way in which it can be: an account that was changed or is new, a code tried before. That an
 * account pauses or was suspended need not be supplied: it is answered as a wrong password is.
 */
export function worldsOf(stage: Stage, cast: Cast, part: Situation, { action, browser }: Move): Situation[] {
  const { policy } = stage.app;
  const entrant = entrantOf(action);
  if (entrant !== null) {
    const { account } = entrant;
    return [
      ...changedOrNot(stage, cast, part, account),
      ...(account === NEWCOMER ? newcomers(policy, part) : []),
    ];
  }
  const link = linkOf(action);
  if (link?.kind === 'confirm') return newcomers(policy, part);
  if (link !== null) {
    return changedOrNot(stage, cast, part, link.account).flatMap((world) =>
      linksBefore(stage, world, browser, link),
    );
  }
  if (codeOf(action) !== null) return [part, ...triedBefore(policy, part)];
  if (eventOf(action) === 'password-changed') {
    const whose = 'account' in action ? [action.account] : [...accountsInUse(part.state)];
    return [part, ...linksLeft(policy, part, whose)];
  }
  const asked = requestOf(action);
  return asked === null ? [part] : factsOfActedFor(stage, part, asked);
}

const NOBODY = { administrator: false };

/** Somebody may have written facts of their own account before another acts for it. */
function factsOfActedFor(stage: Stage, part: Situation, { method, address }: Asked): Situation[] {
  const rules = stage.app.policy.impersonation;
  if (rules?.start.method !== method) return [part];
  const [name] = parametersOf(rules.start.pattern, segmentsOf(pathOf(address))).values();
  const isStart = matches(rules.start.pattern, segmentsOf(pathOf(address)));
  return isStart && name !== undefined ? [part, ...factsBefore(stage, NOBODY, part, name)] : [part];
}

/** The part itself, and with an account that was changed before anybody signed in to it. */
function changedOrNot(stage: Stage, cast: Cast, part: Situation, name: string): Situation[] {
  return [
    part,
    ...(cast.administrator ? changedBefore(stage, cast, part, name) : []),
    ...factsBefore(stage, cast, part, name),
  ];
}

/** A link that was sent to somebody at any time before, asked for in this browser and, where that tells, in another. */
function linksBefore(
  { app: { policy } }: Stage,
  part: Situation,
  browser: string,
  { kind, account }: SentLink,
): Situation[] {
  const { zone, since } = withClock(part);
  const links: AppState['links'] = [{ kind, account, sentAt: since, used: false }];
  const sent = withState({ ...part, zone }, { links });
  if (kind === 'reset' || policy.linkLogin?.sameBrowser !== true) return [sent];
  const held = part.browsers.get(browser) ?? NEW_BROWSER;
  const { jar } = storeCookies(
    held.cookies,
    handedOutIn(linkCookie(policy), handle('link', 0), policy.linkLogin.link.life),
    { origin: policy.origin, path: '/', query: '' },
    { now: since, elapsed: () => false },
  );
  const asked = new Map(part.browsers).set(browser, { ...held, cookies: jar });
  return [sent, { ...sent, browsers: asked }];
}

/** A link that was sent before the password was changed, where that does not end it. */
function linksLeft(
  { password, linkLogin }: Policy,
  part: Situation,
  accounts: readonly string[],
): Situation[] {
  if (password === null || password.ends.has('links')) return [];
  const kinds = [
    ...(password.reset === null ? [] : ['reset' as const]),
    ...(linkLogin === null ? [] : ['sign-in' as const]),
  ];
  return accounts.flatMap((account) =>
    kinds.map((kind) => {
      const { zone, since } = withClock(part);
      return withState({ ...part, zone }, { links: [{ kind, account, sentAt: since, used: false }] });
    }),
  );
}

/** An account whose roles an administrator changed before anybody signed in to it. */
function changedBefore(stage: Stage, cast: Cast, part: Situation, name: string): Situation[] {
  const { policy } = stage.app;
  const { state } = part;
  const account = state.accounts.get(name);
  const isOpen = account?.state === 'active' && isOnlyChanged(policy, state.accounts, null);
  if (!isOpen || accountsInUse(state).has(name)) return [];
  const isGiven = (roles: readonly string[]) =>
    isTried(stage, cast, state, { verb: 'set-roles', account: name, roles });
  return roleChanges(stage, account)
    .filter(isGiven)
    .map((given) => withAccount(part, withRoles(policy, account, given)));
}

/** An account whose facts were changed before anybody signed in to it, by what was written then or by an administrator. */
function factsBefore(
  stage: Stage,
  { administrator }: Pick<Cast, 'administrator'>,
  part: Situation,
  name: string,
): Situation[] {
  const { policy } = stage.app;
  const { state } = part;
  const account = state.accounts.get(name);
  const was = policy.accounts.get(name) ?? account;
  if (account?.state !== 'active' || was === undefined || accountsInUse(state).has(name)) return [];
  const own = factSets(policy, was.facts, false).sets.map((facts) => ({ ...account, facts }));
  const further = administrator
    ? furtherChanges(stage, was)
        .filter(({ flags }) => sameFlags(flags, state.flags))
        .map(({ facts, given }) => ({ ...withRoles(policy, account, given), facts }))
    : [];
  return [...own, ...further]
    .filter(({ facts }) => !sameFacts(facts, account.facts))
    .map((changed) => withAccount(part, changed));
}

function sameFlags(one: ReadonlySet<string>, other: ReadonlySet<string>): boolean {
  return one.size === other.size && [...one].every((flag) => other.has(flag));
}

/** Somebody who has signed up, confirmed or not, with a link that may have been used. */
function newcomers(policy: Policy, part: Situation): Situation[] {
  const { signUp } = policy;
  if (signUp === null) return [];
  const { at, given, roles } = signUp;
  const newcomer = {
    at,
    name: NEWCOMER,
    password: NEWCOMER,
    given,
    roles,
    facts: new Map(),
    secondFactor: owesByRole(policy.secondFactor?.of ?? [], roles),
    key: false,
    alwaysOwesCode: false,
    joined: null,
  };
  const known = part.state.accounts.get(NEWCOMER);
  const { zone, since } = withClock(part);
  // A link that was used has confirmed the account.
  const ways = known === undefined ? ['unconfirmed', 'active', 'used'] : ['active', 'used'];
  const all = known === undefined ? factSets(policy, newcomer.facts, false).sets : [known.facts];
  return ways.flatMap((way) =>
    all.map((facts) => {
      const state = way === 'unconfirmed' ? way : ('active' as const);
      const account = known ?? { ...newcomer, facts, state };
      return withState(withAccount({ ...part, zone }, account), {
        links: [{ kind: 'confirm', account: NEWCOMER, sentAt: since, used: way === 'used' }],
        ...(known === undefined ? { joined: new Map(part.state.joined).set(NEWCOMER, since) } : {}),
      });
    }),
  );
}

/** One-time codes that were got wrong as often as they may be before the last try. */
function triedBefore(policy: Policy, part: Situation): Situation[] {
  const { sessions } = part.state;
  const tries = policy.secondFactor?.tries ?? 1;
  if (tries < 2 || sessions.every(({ code }) => code === null)) return [];
  const tried = sessions.map((record) =>
    record.code === null ? record : { ...record, code: { ...record.code, wrong: tries - 1 } },
  );
  return [withState(part, { sessions: tried })];
}

/** The ages with a clock more, which was started at any time before. */
function withClock({ zone }: Situation): { readonly zone: Situation['zone']; readonly since: Instant } {
  const more = zone.undated();
  return { zone: more, since: instantOf(more.size - 1) };
}

function withAccount(part: Situation, account: Account): Situation {
  return withState(part, { accounts: new Map(part.state.accounts).set(account.name, account) });
}

function withState(part: Situation, change: Partial<AppState>): Situation {
  return { ...part, state: { ...part.state, ...change } };
}
