import { withParameter } from '../http/address.js';
import {
  EMPTY_PAGE,
  isSafe,
  LOGIN_WANTED,
  respond,
  type HttpRequest,
  type HttpResponse,
  type Method,
} from '../http/messages.js';
import type { Login, ReturnRules } from '../language/policy.js';
import type { Refusal } from '../vocabulary/refusal.js';
import type { Path } from '../language/text/yaml-text.js';
import type { App, AppState } from './app.js';
import type { Identity } from './identify.js';
import { landingEntry } from './landing.js';
import { reasonKind, type Reason } from './reasons.js';
import type { Route } from './router.js';

/** What an app gives back for a request: its new state, the response, and why it came out so. */
export interface Answer {
  readonly state: AppState;
  readonly response: HttpResponse;
  readonly explanation: Explanation;
}

export interface Explanation {
  /** The account that the app took the visitor for; null for a guest. */
  readonly seenAs: string | null;
  /** Who acts for that account; left out where nobody does. */
  readonly actedBy?: string | null;
  readonly reason: Reason;
  /** The place of the policy that decided. */
  readonly decidedBy: Path;
  /** Whether a secure cookie was held back because the app believes that it speaks plain http. */
  readonly cookieWithheld?: boolean;
}

/** Sends a visitor elsewhere: 303 after a write, so that it is not sent again, 302 after a read (RFC 9110 §15.4). */
export function redirect(method: Method, location: string, setCookie: readonly string[] = []): HttpResponse {
  return respond(isSafe(method) ? 302 : 303, { location, setCookie });
}

/**
 * Why a request came out as it did, with the place of the policy that decided: for a visitor who was known once it is a limit,
 * and otherwise `at`, such as the audience of the page.
 */
export function explain(seenAs: string | null, reason: Reason, at: Path): Explanation {
  return { seenAs, reason, decidedBy: reasonKind(reason).limit ?? at };
}

const TITLES: Readonly<Record<number, string>> = {
  400: 'Bad request',
  401: 'Not signed in',
  403: 'Not allowed',
  404: 'Not found',
  405: 'Method not allowed',
  503: 'Not available now',
};

/** A plain refusal that says no more than its status and a short title (RFC 9457). */
export function refuseWith(
  status: number,
  request: HttpRequest,
  allow: readonly Method[] = [],
  reason: Reason | null = null,
): HttpResponse {
  return respond(status, {
    allow,
    authenticate: status === 401 ? challengeFor(request, reason) : tooLittle(status, request),
    body: { kind: 'problem', title: TITLES[status] ?? 'Refused' },
  });
}

/** RFC 6750 §3: whoever showed a token that does not open what they asked for is told by the same header. */
function tooLittle(status: number, { authorization }: HttpRequest): string | null {
  return status === 403 && authorization !== '' ? 'Bearer error="insufficient_scope"' : null;
}

/** RFC 6750 §3.1: a token that was shown and did not do is told apart from none at all. */
function challengeFor({ authorization }: HttpRequest, reason: Reason | null): string {
  if (reason !== null && reasonKind(reason).asksForLogin === true) return LOGIN_WANTED;
  return authorization === '' ? 'Bearer' : 'Bearer error="invalid_token"';
}

/** Refuses a visitor the way the policy says for the reason and the kind of address. */
export function refuse(
  app: App,
  route: Route,
  request: HttpRequest,
  visitor: Identity,
  reason: Reason,
): HttpResponse {
  const refusal = refusalFor(route, visitor, reason);
  const { secondFactor } = app.policy;
  const login = loginFor(app, refusal);
  const asked = route.path + request.query;
  switch (refusal.to) {
    case 'status':
      return refuseWith(refusal.status, request, [], reason);
    case 'path':
      return redirect(request.method, refusal.path);
    case 'landing': {
      const entry = landingEntry(app.policy, visitor, route.login);
      return entry === null ? refuseWith(404, request) : redirect(request.method, entry.to);
    }
    case 'shell':
      // The shell is read, and nothing is written to it.
      return isSafe(request.method) ? respond(200, { body: EMPTY_PAGE }) : refuseWith(404, request);
    case 'login':
      if (login === null) return refuseWith(401, request);
      return redirect(request.method, withReturn(login, login.page, request.method, asked));
    case 'code-page':
      if (secondFactor === null) return refuseWith(403, request);
      return redirect(request.method, withReturn(login, secondFactor.page, request.method, asked));
  }
}

/** The login to which a refusal leads, or whose return address goes along with it; null where there is none. */
export function loginFor({ policy }: Pick<App, 'policy'>, refusal: Refusal): Login | null {
  const name = refusal.to === 'login' ? refusal.login : undefined;
  return policy.logins.find((each) => each.name === name) ?? policy.login;
}

/** What the policy says a visitor gets who is refused. */
export function refusalFor(
  { refusals }: Pick<Route, 'refusals'>,
  visitor: Identity,
  reason: Reason,
): Refusal {
  const key = reasonKind(reason).refusal ?? (visitor.account === null ? 'guest' : 'role');
  return refusals[key];
}

/** A page with a form, and the address that was asked for, where that goes along. */
function withReturn(login: Login | null, page: string, method: Method, asked: string): string {
  const rules = login?.return ?? null;
  return rules !== null && rules.kept === 'address' && takesUp(rules, method)
    ? withParameter(page, rules.param, asked)
    : page;
}

/** Whether a request that is refused is to be taken up again after the login. */
export function takesUp({ accept, of }: ReturnRules, method: Method): boolean {
  return accept !== 'never' && (of === 'everything' || isSafe(method));
}
