import type { Clock } from '../time/clock.js';
import {
  isSafe,
  respond,
  type Body,
  type FormName,
  type HttpRequest,
  type HttpResponse,
  type Method,
} from '../http/messages.js';
import type { ShownAgain } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import { admit } from './admit.js';
import { redirect } from './answer.js';
import type { App } from './app.js';
import type { Identity } from './identify.js';
import { firstEntry } from './landing.js';
import type { Reason } from './reasons.js';
import type { Route } from './router.js';

/** The response of a page to somebody who may see it, and why it is that one. */
export interface Served {
  readonly response: HttpResponse;
  readonly reason: Reason;
  readonly at: Path;
}

type PageBody = Extract<Body, { kind: 'page' }>;

/** What is on a page for its reader. */
type Shown = Pick<PageBody, 'reader' | 'actor' | 'menu' | 'parts' | 'guard' | 'refusals' | 'loads'>;

const NONE: readonly string[] = [];
const NO_LOADS: readonly { readonly method: Method; readonly path: string }[] = [];
const NOTHING_SHOWN: Shown = {
  reader: null,
  actor: null,
  menu: NONE,
  parts: NONE,
  guard: null,
  refusals: null,
  loads: NO_LOADS,
};
const PLAIN = new Map([true, false].map((kept) => [kept, pageResponse(NOTHING_SHOWN, kept)]));

/** Serves a page, or sends its visitor on where it is there for that. */
export function servePage(
  app: App,
  route: Route,
  request: HttpRequest,
  visitor: Identity,
  clock: Clock,
): Served {
  const forward = route.page?.forward ?? null;
  if (forward !== null) {
    const entry = firstEntry(forward.entries ?? app.policy.landing, visitor);
    if (entry !== null) {
      return { response: redirect(request.method, entry.to), reason: 'forwarded', at: entry.at };
    }
  }
  return { response: answerFor(app, route, request, visitor, clock), reason: 'served', at: route.grounds.at };
}

/** The page itself, or what comes after something was written to it. */
function answerFor(
  app: App,
  route: Route,
  request: HttpRequest,
  visitor: Identity,
  clock: Clock,
): HttpResponse {
  const { to, status } = route.page?.afterWrite ?? { to: null, status: 200 };
  if (isSafe(request.method)) return showPage(app, route, visitor, clock);
  if (to !== null) return redirect(request.method, filledIn(to, route.parameters));
  if (status === 200) return showPage(app, route, visitor, clock);
  return respond(status, status === 204 ? {} : { body: showPage(app, route, visitor, clock).body });
}

/** The status for script, which has nothing but that to tell a refusal by. */
export function asRefusal({ status }: ShownAgain): number {
  return status < 400 ? 401 : status;
}

/** A form that was refused, shown again in the answer itself: the page that it is on, as a guest sees it. */
export function showAgain(
  app: App,
  form: FormName,
  status: number,
  visitor: Identity,
  clock: Clock,
): HttpResponse {
  const route = app.router.find('GET', app.formPages[form] ?? '/');
  if (route === null) return respond(status);
  const { body } = showPage(app, route, visitor, clock);
  if (body.kind !== 'page') return respond(status);
  return respond(status, { body: { ...body, guard: null, loads: NO_LOADS, again: form }, noStore: true });
}

/** The page of a link, with the form that it is for: it holds a secret, and is not to be kept. */
export function showLinkPage(app: App, route: Route, visitor: Identity, clock: Clock): HttpResponse {
  return { ...showPage(app, route, visitor, clock), noStore: true };
}

function showPage(app: App, route: Route, visitor: Identity, clock: Clock): HttpResponse {
  // Only what not everybody may see must not be shown again unasked (CWE-525), unless the page says so itself.
  const open = route.grounds.audience.who === 'everyone' || route.grounds.audience.who === 'guests';
  const kept = (route.cache ?? (open ? 'cached' : app.policy.backButton)) === 'cached';
  const { menu } = app;
  const { page } = route;
  const loads = page?.loads ?? [];
  const parts = page?.parts ?? [];
  const guard = page !== null && route.guard === 'browser' ? guardOf(route, visitor) : null;
  const reader = visitor.account;
  if (menu.length + loads.length + parts.length === 0 && guard === null && reader === null) {
    return PLAIN.get(kept) ?? pageResponse(NOTHING_SHOWN, kept);
  }
  const shown: string[] = [];
  for (const { to, audience, parameters } of menu) {
    if (admit(audience, visitor, parameters, clock) === 'served') shown.push(to);
  }
  return pageResponse(
    {
      reader,
      actor: visitor.actedBy,
      menu: shown,
      parts: parts.length === 0 ? NONE : partsFor(route, visitor, clock),
      guard,
      refusals: route.refusals === app.policy.refusals.page ? null : route.refusals,
      loads: loads.map(({ method, path }) => ({ method, path: filledIn(path, route.parameters) })),
    },
    kept,
  );
}

/** The parts of a page that its reader sees. */
function partsFor({ page, parameters }: Route, visitor: Identity, clock: Clock): string[] {
  return (page?.parts ?? [])
    .filter(({ audience }) => admit(audience.audience, visitor, parameters, clock) === 'served')
    .map(({ name }) => name);
}

function guardOf({ grounds, parameters, page }: Route, { flags }: Identity): PageBody['guard'] {
  const parts = (page?.parts ?? []).map(({ name, audience }) => ({ name, audience: audience.audience }));
  return { audience: grounds.audience, parameters, flags, parts };
}

function pageResponse(
  { reader, actor, menu, parts, guard, refusals, loads }: Shown,
  kept: boolean,
): HttpResponse {
  return respond(200, {
    body: { kind: 'page', reader, actor, menu, parts, guard, refusals, loads, again: null, token: null },
    noStore: !kept,
  });
}

/** A request of a page with the page's own parameters put in: `/api/berths/:id` on `/berths/12`. */
export function filledIn(path: string, parameters: ReadonlyMap<string, string>): string {
  return path.replace(/:([A-Za-z][\w-]*)/g, (written, name: string) => {
    const value = parameters.get(name);
    return value === undefined ? written : encodeURIComponent(value.toWellFormed());
  });
}
