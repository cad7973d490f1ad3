import type { Clock } from '../time/clock.js';
import { isSafe, type HttpRequest, type HttpResponse } from '../http/messages.js';
import { admit } from './admit.js';
import type { App, AppState } from './app.js';
import type { Identity } from './identify.js';
import type { Route } from './router.js';
import { changeSession, startGuestSession, type Started } from './sessions.js';

/** Whether a response starts a session for a guest who has none, as `session.starts` says. */
export function startsSession(
  app: App,
  request: HttpRequest,
  response: HttpResponse,
  route: Route | null,
  visitor: Identity,
  clock: Clock,
): boolean {
  const { login, session } = app.policy;
  if (session.starts === 'at-login' || login === null || login.by === 'tokens') return false;
  if (visitor.account !== null || visitor.session >= 0 || request.authorization !== '') return false;
  // A login or logout has handed out, or taken away, a session in this very response.
  const own = `${session.cookie.name}=`;
  if (response.setCookie.some((header) => header.startsWith(own))) return false;
  return session.starts === 'at-first-visit' || showsForm(app, response, route, visitor, clock);
}

/** Whether a page is shown with a form on it: that of a way in, or one for what the page itself says guests may write. */
function showsForm(
  app: App,
  { body, status }: HttpResponse,
  route: Route | null,
  visitor: Identity,
  clock: Clock,
): boolean {
  if (body.kind !== 'page' || route === null) return false;
  if (body.again !== null) return true;
  const { page, spelled, parameters } = route;
  if (status !== 200 || page === null) return false;
  if (Object.values(app.formPages).includes(spelled)) return true;
  const { write, read, methods } = page.audiences;
  const writes = [...methods].flatMap(([method, stated]) => (isSafe(method) ? [] : [stated]));
  const own = write === read || write === null ? writes : [write, ...writes];
  return own.some(({ audience }) => admit(audience, visitor, parameters, clock) === 'served');
}

/** Keeps the address that somebody asked for in their session, which is started where there is none. */
export function keepAsked(
  app: App,
  state: AppState,
  visitor: Identity,
  asked: string,
  clock: Clock,
): Pick<Started, 'state' | 'setCookie'> {
  return visitor.session < 0
    ? startGuestSession(app, state, clock, asked)
    : { state: changeSession(state, visitor.session, { asked }), setCookie: [] };
}
