import { lifeBy } from '../language/session-lives.js';
import type { Account } from '../language/policy.js';
import type { Clock, Instant } from '../time/clock.js';
import type { HttpRequest } from '../http/messages.js';
import type { Facts } from '../vocabulary/audience.js';
import { indexOf, type App, type AppState, type SessionRecord } from './app.js';
import { shownIn } from './own-cookies.js';
import type { Reason } from './reasons.js';
import { actedFor } from './acting.js';
import { keyFault, keyIn } from './keys.js';
import { SESSION_LIMITS } from './session-limits.js';
import { isCalledBack } from './called-back.js';
import { tokenInCookie } from './token-cookies.js';

/** Whom the app takes the visitor for. */
export interface Identity {
  /** The account's name; null for a guest. */
  readonly account: string | null;
  readonly roles: ReadonlySet<string>;
  readonly facts: Facts;
  /** What showed it. */
  readonly by: 'session' | 'token' | 'key' | null;
  /** Who acts for that account; null where nobody does. */
  readonly actedBy: string | null;
  /** The index of the session that was shown and counts, also that of a guest or one that still waits for its code; else -1. */
  readonly session: number;
  /** Whether a one-time code was given since the login. */
  readonly secondFactor: boolean;
  /** When the visitor logged in; null for a guest, and for somebody who is only known again. */
  readonly since: Instant | null;
  /** When the account was made; null for a guest, and for one that was made long ago. */
  readonly joinedAt: Instant | null;
  /** The switches of the app that are on. */
  readonly flags: ReadonlySet<string>;
  /** `served` for somebody known; else why the visitor is a guest. */
  readonly reason: Reason;
}

const NO_ROLES: ReadonlySet<string> = new Set();
const NO_FACTS: Facts = new Map();
const NONE_ON: ReadonlySet<string> = new Set();

/** A visitor of whom nothing is known. */
export const GUEST: Identity = {
  account: null,
  roles: NO_ROLES,
  facts: NO_FACTS,
  by: null,
  actedBy: null,
  session: -1,
  secondFactor: false,
  since: null,
  joinedAt: null,
  flags: NONE_ON,
  reason: 'guest',
};

/** Tells who is asking: the session cookie is asked first, then the key of a machine, then the bearer token (RFC 6750 §2.1). */
export function identify(app: App, state: AppState, request: HttpRequest, clock: Clock): Identity {
  const visitor = identifyVisitor(app, state, request, clock);
  return visitor.account !== null || state.flags.size === 0 ? visitor : { ...visitor, flags: state.flags };
}

function identifyVisitor(app: App, state: AppState, request: HttpRequest, clock: Clock): Identity {
  const id = shownIn(request.cookie, app.policy.session.cookie);
  const bySession = id === null ? GUEST : identifySession(app, state, id, clock);
  if (bySession.account !== null) return bySession;
  if (app.policy.apiKeys !== null) {
    const key = keyIn(app.policy.apiKeys, request);
    if (key >= 0) return identifyKey(app, state, key, clock);
  }
  if (request.authorization !== '') {
    return identifyToken(app, state, bearerIndex(request.authorization), clock);
  }
  const kept = tokenInCookie(app.policy.tokens, request, 'access');
  return kept === '' ? bySession : identifyToken(app, state, indexOf('access', kept), clock);
}

function identifySession(app: App, state: AppState, id: string, clock: Clock): Identity {
  return identityOf(app, state, indexOf('session', id), clock);
}

/** Whom a session shows. */
export function identityOf(app: App, state: AppState, session: number, clock: Clock): Identity {
  const record = state.sessions[session];
  if (record === undefined) return guestBecause('session-lost');
  const reason = sessionFault(app, state, record, clock);
  // Nobody can tell a guest whose session is over from one who never had any.
  if (record.account === null) return reason === null ? { ...GUEST, session } : GUEST;
  const account = state.accounts.get(record.account);
  if (reason !== null) return guestBecause(reason);
  if (account === undefined) return guestBecause('account-gone');
  if (account.state !== 'active') return guestBecause(account.state);
  if (record.half) return { ...guestBecause('code-needed'), session };
  const held = app.policy.session.roles === 'at-login' ? record.roles : account.roles;
  const roles = pickedRoles(app, record.asRole, held);
  const isFresh = !record.resumed || app.policy.remember?.countsAs.fresh === true;
  const since = isFresh ? record.startedAt : null;
  return visitorWith(app, state, account, { ...record, roles, session, since }, clock);
}

/** Whom the app takes somebody for who has come in: the account that they act for, else their own. */
export function visitorWith(
  app: App,
  state: AppState,
  account: Account,
  entry: Pick<SessionRecord, 'acting' | 'secondFactor'> & Pick<Identity, 'roles' | 'session' | 'since'>,
  clock: Clock,
): Identity {
  const { acting, roles, session, secondFactor, since } = entry;
  const other = actedFor(app, state, { account: account.name, acting }, roles, clock);
  const whose = other ?? account;
  return {
    account: whose.name,
    roles: other?.roles ?? roles,
    facts: whose.facts,
    by: 'session',
    actedBy: other === null ? null : account.name,
    session,
    secondFactor,
    since,
    joinedAt: state.joined.get(whose.name) ?? null,
    flags: state.flags,
    reason: 'served',
  };
}

/** What of some roles is left to somebody who picked one at the login. */
export function pickedRoles(app: App, asRole: string | null, held: ReadonlySet<string>): ReadonlySet<string> {
  if (asRole === null) return held;
  return held.has(asRole) ? (app.policy.roles.get(asRole)?.holds ?? NO_ROLES) : NO_ROLES;
}

/** The roles by which whoever has a session goes. */
export function rolesIn(app: App, { accounts }: AppState, record: SessionRecord): ReadonlySet<string> {
  if (app.policy.session.roles === 'at-login') return pickedRoles(app, record.asRole, record.roles);
  const held = accounts.get(record.account ?? '')?.roles ?? NO_ROLES;
  return pickedRoles(app, record.asRole, held);
}

/** Why a session no longer counts; null while it does. */
export function sessionFault(app: App, state: AppState, record: SessionRecord, clock: Clock): Reason | null {
  if (record.ended !== null) return record.ended;
  const roles = rolesIn(app, state, record);
  for (const limit of SESSION_LIMITS) {
    const life = lifeBy(limit.option, app.policy, roles);
    if (life !== null && clock.elapsed(limit.since(record), life)) return limit.reason;
  }
  return null;
}

function identifyToken(app: App, state: AppState, index: number, clock: Clock): Identity {
  const rules = app.policy.tokens;
  const claims = state.accessTokens[index];
  const family = claims && state.families[claims.family];
  if (rules === null || claims === undefined || family === undefined) return guestBecause('guest');
  // RFC 7519 §4.1.4: from the expiration time on it must not be accepted, but for the leeway.
  if (clock.elapsed(claims.issuedAt, rules.access.life + rules.access.leeway)) {
    return guestBecause('access-expired');
  }
  if (family.ended !== null && isCalledBack(app.policy, family)) return guestBecause(family.ended);
  const account = state.accounts.get(family.account);
  let { roles } = claims;
  if (rules.roles === 'each-request') {
    if (account === undefined) return guestBecause('account-gone');
    if (account.state !== 'active') return guestBecause(account.state);
    roles = pickedRoles(app, family.asRole, account.roles);
  }
  return {
    account: family.account,
    roles,
    facts: account?.facts ?? NO_FACTS,
    by: 'token',
    actedBy: null,
    session: -1,
    secondFactor: family.secondFactor,
    since: family.startedAt,
    joinedAt: state.joined.get(family.account) ?? null,
    flags: state.flags,
    reason: 'served',
  };
}

/** Whom the key of a machine shows. Nobody types a code for it, and it never logs in. */
function identifyKey(app: App, state: AppState, index: number, clock: Clock): Identity {
  const record = state.keys[index];
  const account = state.accounts.get(record?.account ?? '');
  if (record === undefined || app.policy.apiKeys === null) return guestBecause('guest');
  if (account === undefined) return guestBecause('account-gone');
  const fault = keyFault(app.policy.apiKeys, record, clock);
  if (fault !== null) return guestBecause(fault);
  if (account.state !== 'active') return guestBecause(account.state);
  return {
    ...GUEST,
    account: account.name,
    roles: account.roles,
    facts: account.facts,
    by: 'key',
    joinedAt: state.joined.get(account.name) ?? null,
    flags: state.flags,
    reason: 'served',
  };
}

/** The index of the access token in an Authorization header; -1 where it holds none of ours. */
export function bearerIndex(authorization: string): number {
  return authorization.startsWith('Bearer ') ? indexOf('access', authorization.slice(7)) : -1;
}

const GUESTS = new Map<Reason, Identity>();
function guestBecause(reason: Reason): Identity {
  let guest = GUESTS.get(reason);
  if (guest === undefined) GUESTS.set(reason, (guest = { ...GUEST, reason }));
  return guest;
}
