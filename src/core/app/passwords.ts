import type { Clock } from '../time/clock.js';
import { respond, type HttpRequest, type HttpResponse } from '../http/messages.js';
import type { Account } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import { explain, redirect, refuseWith, type Answer } from './answer.js';
import { changed, indexOf, NO_LOGIN, type App, type AppState } from './app.js';
import { bearerIndex, type Identity } from './identify.js';
import { askForLink } from './ask-for-link.js';
import { withUsed } from './links.js';
import { endHandedOut, type Owned } from './login-ends.js';
import { openLinkOf } from './open-link.js';
import { signIn } from './sign-in.js';
import { shownIn, clearedIn } from './own-cookies.js';
import { showLinkPage } from './page.js';
import type { Reason } from './reasons.js';
import { remember } from './remember.js';
import type { Route } from './router.js';
import { renewId } from './sessions.js';
import { clearedTokenCookies, tokenInCookie } from './token-cookies.js';
import { endFamily, startFamily } from './tokens.js';
import { goOn } from './way-in.js';

/** What of the one who changes a password is left alone, or treated by itself. Numbers of records; -1 for none. */
interface Own {
  readonly session: number;
  readonly family: number;
  /** The login of the remember token that was shown. */
  readonly remembered: number;
}

const NOBODY: Own = { session: -1, family: -1, remembered: NO_LOGIN };

/** The endpoint for whoever changes their own password, for a visitor who is in its audience. */
export function changePassword(
  app: App,
  state: AppState,
  request: HttpRequest,
  visitor: Identity,
  clock: Clock,
): Answer {
  const rules = app.policy.password;
  const change = rules?.change ?? null;
  if (rules === null || change === null) throw new Error('a password endpoint without rules for it');
  const account = state.accounts.get(visitor.account ?? '');
  const end = (after: AppState, response: HttpResponse, reason: Reason, at: Path): Answer => ({
    state: after,
    response,
    explanation: explain(visitor.account, reason, at),
  });
  if (account === undefined) return end(state, refuseWith(401, request), visitor.reason, change.at);
  if (change.asksOld && request.form.get('old-password') !== account.password) {
    return end(state, goOn(request, change.page, []), 'wrong-password', [...change.at, 'asks-old']);
  }
  const own = ownOf(app, state, request, visitor);
  const given = withPassword(state, account, request.form.get('password') ?? '');
  const spared = rules.own === 'ends' ? NOBODY : own;
  const after = endHeld(app, given, account.name, spared);
  const lands = rules.own === 'ends' ? (app.policy.login?.page ?? change.lands) : change.lands;
  if (rules.own === 'ends') {
    return end(after, goOn(request, lands, clearedOf(app, request, visitor)), 'served', change.at);
  }
  if (rules.own === 'keeps') return end(after, goOn(request, lands, []), 'served', change.at);
  return renewed(app, after, request, { account, own, lands, at: change.at }, clock);
}

/**
 * The endpoint's answer with another session, other tokens and another remember token in the place of those of whoever changed the
 * password: another login, so that a copy of what they had is worth nothing.
 */
function renewed(
  app: App,
  state: AppState,
  request: HttpRequest,
  {
    account,
    own,
    lands,
    at,
  }: { readonly account: Account; readonly own: Own; readonly lands: string; readonly at: Path },
  clock: Clock,
): Answer {
  const { tokens } = app.policy;
  const family = state.families[own.family];
  const login = state.logins;
  let after = changed(state, { logins: login + 1 });
  let next = own.family;
  const setCookie: string[] = [];
  let body: HttpResponse['body'] | null = null;
  if (tokens !== null && family !== undefined) {
    after = endFamily(after, own.family, 'password-changed', true);
    next = after.families.length;
    const issued = startFamily(app, after, tokens, { ...family, login }, lands, clock);
    after = issued.state;
    body = issued.body;
    setCookie.push(...issued.setCookie);
  }
  if (own.session >= 0) {
    const change = { login, family: next < 0 ? null : next };
    const fresh = renewId(app, after, own.session, change, 'password-changed');
    after = fresh.state;
    setCookie.push(...fresh.setCookie);
  }
  if (state.remembered.some((each) => each.login === own.remembered && !each.ended)) {
    const isOwn = (each: Owned) => each.login === own.remembered;
    after = endHandedOut(app, after, new Set(['remember']), 'password-changed', isOwn);
    const again = remember(app, after, account.name, login, clock);
    after = again.state;
    setCookie.push(...again.setCookie);
  }
  const response =
    body !== null && request.accept === 'application/json'
      ? respond(200, { setCookie, body })
      : goOn(request, lands, setCookie);
  return { state: after, response, explanation: explain(account.name, 'served', at) };
}

/** What a visitor is known by, and may be known by again. */
function ownOf({ policy }: App, state: AppState, request: HttpRequest, { session }: Identity): Own {
  const token = tokenInCookie(policy.tokens, request, 'access');
  const index = request.authorization === '' ? indexOf('access', token) : bearerIndex(request.authorization);
  const family = state.accessTokens[index]?.family ?? state.sessions[session]?.family ?? -1;
  const shown = policy.remember === null ? null : shownIn(request.cookie, policy.remember.cookie);
  const { login = NO_LOGIN } = state.remembered[indexOf('remember', shown ?? '')] ?? {};
  return { session, family, remembered: login };
}

/** The cookies of somebody who has to log in again. */
function clearedOf({ policy }: App, request: HttpRequest, { session }: Identity): string[] {
  const kinds = (['access', 'refresh'] as const).filter(
    (kind) => tokenInCookie(policy.tokens, request, kind) !== '',
  );
  return [
    ...(session >= 0 ? clearedIn(policy.session.cookie) : []),
    ...clearedTokenCookies(policy.tokens, kinds),
  ];
}

/** An app in which an account has another password. Who got in with the old one is treated apart. */
function withPassword(state: AppState, account: Account, password: string): AppState {
  return changed(state, { accounts: new Map(state.accounts).set(account.name, { ...account, password }) });
}

/** Ends what a changed password ends of an account, but for what is spared. */
function endHeld(app: Pick<App, 'policy'>, before: AppState, name: string, spared: Own): AppState {
  const { password } = app.policy;
  if (password === null) return before;
  const { ends } = password;
  const own: readonly (Owned | undefined)[] = [
    before.sessions[spared.session],
    before.families[spared.family],
    ...before.remembered.filter(({ login }) => login === spared.remembered),
  ];
  const isMeant = (each: Owned) => each.account === name && !own.includes(each);
  let after = endHandedOut(app, before, ends, 'password-changed', isMeant, ends.has('access'));
  if (ends.has('links')) {
    const links = after.links.map((link) =>
      link.account !== name || link.kind === 'confirm' || link.used ? link : { ...link, used: true },
    );
    after = changed(after, { links });
  }
  return after;
}

/** The app after somebody with access to it gave an account another password: it ends the same, and spares nobody. */
export function passwordSet(
  app: Pick<App, 'policy'>,
  state: AppState,
  name: string,
  given: string,
): AppState {
  const account = state.accounts.get(name);
  if (account === undefined) return state;
  return endHeld(app, withPassword(state, account, given), name, NOBODY);
}

/** The endpoint that sends a link to whoever has forgotten their password. Unless the policy says so it tells nobody apart. */
export function askReset(app: App, state: AppState, request: HttpRequest, clock: Clock): Answer {
  const rules = app.policy.password?.reset ?? null;
  if (rules === null) throw new Error('a reset endpoint without rules for it');
  return askForLink(state, request, clock, 'reset', rules);
}

/** The link for a new password: it shows a form, and takes what that sends. Good once, and for its life. */
export function reset(
  app: App,
  state: AppState,
  request: HttpRequest,
  route: Route,
  visitor: Identity,
  clock: Clock,
): Answer {
  const rules = app.policy.password?.reset ?? null;
  const { login } = app.policy;
  if (rules === null || login === null) throw new Error('a reset link without rules for it');
  const limits = { at: rules.at, life: rules.link.life, back: rules.page };
  const { opened, refused } = openLinkOf('reset', state, request, route.parameters, limits, clock);
  if (refused !== null) return refused;
  if (request.method !== 'POST') {
    const response = showLinkPage(app, route, visitor, clock);
    return { state, response, explanation: explain(visitor.account, 'served', rules.at) };
  }
  const { account } = opened;
  const used = withUsed(state, opened);
  const after = passwordSet(app, used, account.name, request.form.get('password') ?? '');
  if (rules.then === 'login' || account.state !== 'active') {
    const response = redirect(request.method, login.page);
    return { state: after, response, explanation: explain(null, 'served', rules.at) };
  }
  const now = after.accounts.get(account.name) ?? account;
  return signIn(app, after, request, { account: now, code: rules.code, by: login }, clock);
}
