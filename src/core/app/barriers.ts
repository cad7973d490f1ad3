import { parameterOf, resolveAddress, withParameter } from '../http/address.js';
import { isSafe, type FormName, type HttpRequest, type HttpResponse } from '../http/messages.js';
import type { Barrier, Policy, ReturnRules } from '../language/policy.js';
import type { Clock } from '../time/clock.js';
import { askedBy } from '../audience/all-conditions.js';
import type { Where } from '../audience/condition.js';
import type { SomeVisitors } from '../vocabulary/audience.js';
import { admit } from './admit.js';
import { redirect, refuseWith } from './answer.js';
import type { App } from './app.js';
import type { Identity } from './identify.js';
import { acceptedReturn } from './return-address.js';
import { pathOf, sentPath } from './endpoints.js';
import type { Route } from './router.js';
import type { Task } from './tasks.js';

/** The first barrier that stops a visitor at an address; null for none. */
export function barrierBefore(app: App, route: Route, visitor: Identity, clock: Clock): Barrier | null {
  const { barriers } = app.policy;
  if (barriers.length === 0) return null;
  return barriers.find((each) => stopsAt(app, each, route) && stops(each, visitor, route, clock)) ?? null;
}

/** Whether a barrier stops anybody at an address. */
export function stopsAt(app: App, barrier: Barrier, route: Route): boolean {
  if (route.kind === 'api' && barrier.api === null) return false;
  if (!barrierTakes(app, barrier, route)) return false;
  return !barrier.lets.some((pattern) => app.router.covers(pattern, route.path));
}

/** The ways to log in besides the form of a login. */
const LOGS_IN: ReadonlySet<Task> = new Set<Task>([
  'code',
  'ask-link',
  'open-link',
  'provider-start',
  'provider-back',
]);

/** The ways in and out pass, with the pages of their forms, but for those that the barrier names. */
function barrierTakes({ formPages }: App, { also }: Barrier, { task, login, spelled }: Route): boolean {
  const isAt = (form: FormName) => task === null && formPages[form] === spelled;
  if (task === 'sign-up' || isAt('sign-up')) return also.has('sign-up');
  if (login !== null && (task === 'login' || task === null)) return also.has('login');
  if (task !== null && LOGS_IN.has(task)) return also.has('login');
  if (isAt('code') || isAt('ask-link')) return also.has('login');
  return (task === null || task === 'act-for') && !isAt('change-password') && !isAt('ask-reset');
}

/** Whether a visitor is among those whom a barrier stops. */
export function stops(
  { stops: { audience } }: Barrier,
  visitor: Identity,
  { parameters }: Pick<Route, 'parameters'>,
  clock: Clock,
): boolean {
  if (visitor.account === null && audience.who === 'some') {
    return stopsGuests(audience, visitor, { parameters, clock });
  }
  return admit(audience, visitor, parameters, clock) === 'served';
}

/** What goes by switches stops guests too, as far as it asks nothing that only somebody known could meet. */
function stopsGuests(audience: SomeVisitors, visitor: Identity, where: Where): boolean {
  const asked = askedBy(audience);
  if (!asked.some(({ condition }) => condition.turns === 'with-a-switch')) return false;
  return asked.every(
    ({ condition, value }) => condition.isForGuests === true && condition.admits(value, visitor, where),
  );
}

/** Whether a barrier sends people to a page where they are to pass it, by what they write about themselves. */
export function isPassedByFacts({ sends, stops: { audience } }: Barrier): boolean {
  return sends !== null && audience.who === 'some' && audience.facts.size > 0;
}

/** What somebody gets whom a barrier stops. */
export function stopAt(app: App, barrier: Barrier, route: Route, request: HttpRequest): HttpResponse {
  const { answers, sends, api, returns } = barrier;
  if (route.kind === 'api') return refuseWith(api ?? 403, request);
  if (sends === null) return refuseWith(answers ?? 403, request);
  const asked = route.path + request.query;
  const isKept = returns && isSafe(request.method);
  return redirect(
    request.method,
    isKept ? withParameter(sends, returnRules(app.policy).param, asked) : sends,
  );
}

/**
 * Where somebody was going whom a barrier sent to a page that they have just written to, and whom it stops no longer; null for
 * nowhere.
 *
 * @param before and @param after the visitor before and after the write
 */
export function passedOn(
  app: App,
  route: Route,
  request: HttpRequest,
  before: Identity,
  after: Identity,
  clock: Clock,
): string | null {
  const { barriers, origin } = app.policy;
  const here = barriers.filter(
    ({ returns, sends }) => returns && sends !== null && pathOf(sends) === route.path,
  );
  const isPassed = here.some(
    (each) => stops(each, before, route, clock) && !stops(each, after, route, clock),
  );
  if (!isPassed || request.referer === '') return null;
  const rules = returnRules(app.policy);
  const from = resolveAddress(request.referer, { origin, path: '/', query: '' });
  const asked = from === null ? null : parameterOf(from.query, rules.param);
  const accepted = asked === null ? null : acceptedReturn(rules, asked, app.policy);
  if (accepted === null || !rules.onlyIfAllowed) return accepted;
  const target = app.router.find('GET', sentPath(accepted));
  const isThere = target?.isAnswered === true && target.page !== null;
  return isThere && admit(target.grounds.audience, after, target.parameters, clock) === 'served'
    ? accepted
    : null;
}

/** The login's rules for addresses to come back to, or the careful ones where it has none. */
function returnRules({ login }: Policy): Pick<ReturnRules, 'param' | 'accept' | 'onlyIfAllowed'> {
  return login?.return ?? CAREFUL;
}

const CAREFUL = { param: 'back', accept: 'same-origin', onlyIfAllowed: true } as const;
