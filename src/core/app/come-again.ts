import type { Clock } from '../time/clock.js';
import { parameterOf, resolveAddress } from '../http/address.js';
import { isSafe, type HttpRequest } from '../http/messages.js';
import type { Seconds } from '../time/duration.js';
import type { Login, Policy } from '../language/policy.js';
import type { Audience } from '../vocabulary/audience.js';
import { admit } from './admit.js';
import type { App, AppState } from './app.js';
import type { Identity } from './identify.js';
import type { Route } from './router.js';
import { owesCode } from './second-factor.js';

/** The form that somebody who is signed in may use although its page is not for them; null for none. */
export type OpenForm = 'login' | 'code' | null;

/**
 * Whether somebody who is signed in may use a form whose page is not for them: the login page where their login is too old for
 * what they asked for or a code is owed there, the code page where they owe a code. Refusals send them there, so it must let
 * them in.
 */
export function openForm(
  app: App,
  state: AppState,
  route: Route,
  request: HttpRequest,
  visitor: Identity,
  clock: Clock,
): OpenForm {
  const { code } = app.formPages;
  // A machine fills in no form.
  if (visitor.account === null || visitor.by === 'key') return null;
  const { login } = route;
  if (login !== null && (route.task === 'login' || isPage(route, request))) {
    return isStale(app, login, state, request, visitor, clock) ? 'login' : null;
  }
  const isAtCode = route.task === 'code' || (isPage(route, request) && code === route.spelled);
  return isAtCode && owesCode(state, visitor) ? 'code' : null;
}

function isPage({ task }: Route, { method }: HttpRequest): boolean {
  return task === null && isSafe(method);
}

/** Whether a new login is asked for by the address that goes along, or, where none does, by any page. */
function isStale(
  { policy, router }: App,
  { return: rules }: Login,
  state: AppState,
  request: HttpRequest,
  visitor: Identity,
  clock: Clock,
): boolean {
  const passed =
    rules?.kept === 'session'
      ? (state.sessions[visitor.session]?.asked ?? null)
      : isSafe(request.method)
        ? parameterOf(request.query, rules?.param ?? '')
        : (request.form.get(rules?.param ?? '') ?? null);
  const asked = rules === null || rules.accept === 'never' ? null : passed;
  if (asked === null) {
    // What was sent is not taken up again, so no address goes along with such a refusal.
    const least = leastLoginWithin(policy);
    return least !== null && (visitor.since === null || clock.elapsed(visitor.since, least));
  }
  const address = resolveAddress(asked, { origin: policy.origin, path: '/', query: '' });
  if (address === null || address.origin !== policy.origin) return false;
  const route = router.find('GET', address.path);
  if (route === null) return false;
  const reason = admit(route.grounds.audience, visitor, route.parameters, clock);
  return reason === 'stale-login' || reason === 'code-needed';
}

const least = new WeakMap<Policy, Seconds | null>();

/** The shortest time since the login that any page or rule asks for; null where none does. */
function leastLoginWithin(policy: Policy): Seconds | null {
  let known = least.get(policy);
  if (known === undefined) {
    const asked = [...policy.pages, ...policy.rules]
      .flatMap(({ audiences: { read, write, methods } }) => [read, write, ...methods.values()])
      .map((stated) => (stated === null ? null : withinOf(stated.audience)))
      .concat(withinOf(policy.otherwise))
      .filter((within) => within !== null);
    least.set(policy, (known = asked.length === 0 ? null : Math.min(...asked)));
  }
  return known;
}

function withinOf(audience: Audience): Seconds | null {
  return audience.who === 'some' ? audience.loginWithin : null;
}
