import type { Clock } from '../time/clock.js';
import { resolveAddress } from '../http/address.js';
import { respond, type Body, type HttpRequest, type HttpResponse } from '../http/messages.js';
import type { Account, Login } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import { closedWhileActing } from './acting.js';
import { admit } from './admit.js';
import { explain, redirect, refuseWith, type Answer } from './answer.js';
import { changed, indexOf, type App, type AppState } from './app.js';
import { endOthers, isTaken } from './at-once.js';
import { pickedRoles, visitorWith, type Identity } from './identify.js';
import { landingEntry } from './landing.js';
import { shownIn } from './own-cookies.js';
import { remember } from './remember.js';
import { acceptedReturn } from './return-address.js';
import type { Reason } from './reasons.js';
import { endSession, startSession, type SessionStart } from './sessions.js';
import { startFamily } from './tokens.js';

/** Somebody whom the app is about to let in, by whatever way. */
export interface Entrant {
  /** The login that it is, or as which it is treated. */
  readonly by: Login;
  readonly account: Account;
  /** The one role picked at the login; null for all. */
  readonly asRole: string | null;
  readonly secondFactor: boolean;
  /** The address asked for before; null for none. */
  readonly asked: string | null;
  /** Where the way in leads where nothing was asked for; null: the landing. */
  readonly lands: string | null;
  /** Whether the visitor wants to be known again. */
  readonly remember: boolean;
}

/** Lets somebody in: a new session id, tokens, then where to. Login, one-time code and sign-up all end here. */
export function letIn(
  app: App,
  before: AppState,
  request: HttpRequest,
  entrant: Entrant,
  clock: Clock,
): Answer {
  const { by: rules } = entrant;
  const under = shownSession(app, request);
  const asked = askedIn(app, rules, before, request, entrant.asked);
  const where = destination(app, before, { ...entrant, asked }, clock);
  const state = rules.renewSessionId ? endSession(app, before, under, 'signed-out') : before;
  const { name } = entrant.account;
  // Whoever began with a password is asked again once their code is right: somebody else may have come in meanwhile.
  if (rules.by !== 'tokens' && isTaken(app, before, name, under, clock)) {
    const response = goOn(request, rules.page, []);
    return { state: before, response, explanation: explain(null, 'locked-out', ['session', 'at-once']) };
  }
  const login = state.logins;
  const alone = rules.by === 'tokens' ? state : endOthers(app, state, name, login);
  const begun = changed(alone, { logins: login + 1 });
  const first = handOut(app, begun, entrant, login, rules.renewSessionId ? -1 : under, where, clock);
  const handed = entrant.remember ? withMemory(app, first, name, login, clock) : first;
  const explanation = explain(entrant.account.name, where.reason, where.at);
  if (where.location === null) {
    const response = { ...refuseWith(404, request), setCookie: handed.setCookie };
    return { state: handed.state, response, explanation };
  }
  const response =
    handed.body !== null
      ? respond(200, { setCookie: handed.setCookie, body: handed.body })
      : app.router.find(request.method, request.path)?.kind === 'api'
        ? goOn(request, where.location, handed.setCookie)
        : redirect(request.method, where.location, handed.setCookie);
  return { state: handed.state, response, explanation };
}

/** Sends the visitor on: a form by a redirect, script by telling it where to go. */
export function goOn(request: HttpRequest, to: string, setCookie: readonly string[]): HttpResponse {
  return request.accept === 'application/json'
    ? respond(200, { setCookie, body: { kind: 'next', next: to } })
    : redirect(request.method, to, setCookie);
}

/** What is handed out, with a token by which the visitor is known again. */
function withMemory(app: App, handed: HandedOut, account: string, login: number, clock: Clock): HandedOut {
  if (app.policy.remember === null) return handed;
  const { state, setCookie } = remember(app, handed.state, account, login, clock);
  return { ...handed, state, setCookie: [...handed.setCookie, ...setCookie] };
}

/** The index of the session whose id came with a request; -1 for none. */
export function shownSession(app: App, request: HttpRequest): number {
  const shown = shownIn(request.cookie, app.policy.session.cookie);
  return shown === null ? -1 : indexOf('session', shown);
}

/** The address that was asked for first, as far as it is still known at the login: what the form passes on, or the session has. */
export function askedIn(
  app: App,
  login: Login,
  state: AppState,
  request: HttpRequest,
  passedOn: string | null,
): string | null {
  if (login.return?.kept !== 'session') return passedOn;
  const isLost = login.renewSessionId && !login.return.carriedOver;
  return isLost ? null : (state.sessions[shownSession(app, request)]?.asked ?? null);
}

interface HandedOut {
  readonly state: AppState;
  readonly setCookie: readonly string[];
  readonly body: Extract<Body, { kind: 'tokens' }> | null;
}

/** Hands out what `login.by` says: a session, tokens, or both tied together. */
function handOut(
  app: App,
  before: AppState,
  entrant: Entrant,
  login: number,
  under: number,
  where: Destination,
  clock: Clock,
): HandedOut {
  const { by: rules, account, asRole, secondFactor } = entrant;
  const roles = account.roles;
  const start = (family: number | null): SessionStart => {
    return {
      account: account.name,
      login,
      family,
      roles,
      asRole,
      secondFactor,
      resumed: false,
      half: false,
      code: null,
    };
  };
  const { tokens } = app.policy;
  if (rules.by === 'session' || tokens === null) {
    const session = startSession(app, before, start(null), under, clock);
    return { state: session.state, setCookie: session.setCookie, body: null };
  }
  const family = { account: account.name, login, asRole, secondFactor };
  const { state, body, setCookie } = startFamily(app, before, tokens, family, where.location ?? '/', clock);
  if (rules.by === 'tokens') return { state, setCookie, body };
  const session = startSession(app, state, start(before.families.length), under, clock);
  return { state: session.state, setCookie: [...session.setCookie, ...setCookie], body };
}

interface Destination {
  readonly location: string | null;
  readonly reason: Reason;
  readonly at: Path;
}

/** Where a way in leads: the address asked for first when it is accepted and allowed, else the landing. */
function destination(app: App, state: AppState, entrant: Entrant, clock: Clock): Destination {
  const { by: rules, asked } = entrant;
  const visitor = visitorAfter(app, state, entrant, clock);
  if (rules.return === null || asked === null) return toLanding(app, entrant, visitor, 'served');
  const accepted = acceptedReturn(rules.return, asked, app.policy);
  if (accepted === null) return { ...toLanding(app, entrant, visitor, 'unsafe-return'), at: rules.return.at };
  if (rules.return.onlyIfAllowed && !mayRead(app, accepted, visitor, clock)) {
    return toLanding(app, entrant, visitor, 'served');
  }
  return { location: accepted, at: rules.return.at, reason: 'served' };
}

function toLanding(app: App, entrant: Entrant, visitor: Identity, reason: Reason): Destination {
  if (entrant.lands !== null) return { location: entrant.lands, at: ['sign-up', 'lands'], reason };
  const entry = landingEntry(app.policy, visitor, entrant.by);
  return entry === null
    ? { location: null, at: ['landing'], reason: 'unknown-page' }
    : { location: entry.to, at: entry.at, reason };
}

/** Whom the app will take the visitor for once they are let in: acting that is noted with the account goes on. */
function visitorAfter(app: App, state: AppState, entrant: Entrant, clock: Clock): Identity {
  const { account, asRole, secondFactor } = entrant;
  const roles = pickedRoles(app, asRole, account.roles);
  const entry = { acting: null, roles, session: -1, secondFactor, since: clock.now };
  return visitorWith(app, state, account, entry, clock);
}

/** Whether a visitor would be shown an address. One on another site is not for this app to judge. */
function mayRead(app: App, location: string, visitor: Identity, clock: Clock): boolean {
  const address = resolveAddress(location, { origin: app.policy.origin, path: '/', query: '' });
  if (address === null || address.origin !== app.policy.origin) return true;
  const route = app.router.find('GET', address.path);
  if (route?.isAnswered !== true || route.page === null) return false;
  if (closedWhileActing(app.policy.impersonation, app.router, route, visitor) >= 0) return false;
  // A page that asks for a code is for them: they can give it.
  const admitted = admit(route.grounds.audience, visitor, route.parameters, clock);
  return admitted === 'served' || admitted === 'code-needed';
}
