import { isSafe, type Body, type HttpRequest, type HttpResponse } from '../http/messages.js';
import type { App, AppState } from './app.js';
import type { Identity } from './identify.js';
import type { Task } from './tasks.js';
import { changeSession } from './sessions.js';

/** The token that forms carry which are shown in a session: told by its secret and, where each is good once, by its number. */
function tokenOf({ sessions }: AppState, session: number): string | null {
  const record = sessions[session];
  if (record === undefined || record.secret === null) return null;
  return `form-${record.secret + 1}${record.tokens === 0 ? '' : `.${record.tokens}`}`;
}

/** A page with the token for its forms, and the state in which that counts; the page as it is where forms carry none. */
export function withToken(
  app: App,
  state: AppState,
  session: number,
  response: HttpResponse,
): { readonly state: AppState; readonly response: HttpResponse } {
  const { csrf } = app.policy;
  const { body } = response;
  if (csrf === null || csrf.token === 'absent' || body.kind !== 'page') return { state, response };
  const known = state.sessions[session];
  if (known === undefined) return { state, response };
  const after =
    csrf.token === 'per-session' ? state : changeSession(state, session, { tokens: known.tokens + 1 });
  const shown: Body = { ...body, token: tokenOf(after, session) };
  return { state: after, response: { ...response, body: shown } };
}

/** Requests that show in themselves what they need, and take nothing from the browser's cookies. */
const BY_ITSELF: ReadonlySet<Task | null> = new Set<Task | null>(['refresh', 'revoke']);

/**
 * Whether a request that changes something is refused for where it comes from (CWE-352): it is from another origin and the app
 * looks at the Origin header, or it lacks the token of the session in which its form was shown.
 */
export function isForeign(
  { policy: { csrf, login, session } }: App,
  state: AppState,
  request: HttpRequest,
  task: Task | null,
  visitor: Identity,
): boolean {
  if (csrf === null || isSafe(request.method) || visitor.by === 'key') return false;
  if (request.authorization !== '') return false;
  if (csrf.checksOrigin && request.crossOrigin) return true;
  if (csrf.token === 'absent' || BY_ITSELF.has(task)) return false;
  if (visitor.session >= 0) return request.form.get(csrf.field) !== tokenOf(state, visitor.session);
  // Without a session there is no token: an app that starts none for guests takes their forms without.
  return login?.by !== 'tokens' && visitor.by !== 'token' && session.starts !== 'at-login';
}
