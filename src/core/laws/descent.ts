import { handle, indexOf, type AppState } from '../app/app.js';
import { bearerIndex } from '../app/identify.js';
import { TOKEN_COOKIES, tokenInCookie } from '../app/token-cookies.js';
import { cookieValue } from '../http/cookies.js';
import type { Policy } from '../language/policy.js';
import type { Exchange } from '../play/stage.js';
import { letsIn } from '../play/entries.js';

/** What was handed out for a credential that a request showed: it goes on from that one, and is worth no less. */
export interface Descent {
  readonly from: string;
  readonly to: readonly string[];
}

/**
 * What an exchange handed out on the strength of credentials alone: tokens for a refresh token, a session and the next remember
 * token for a remember token, a sealed session for the one before it. What a password or a one-time code was given for comes
 * of that, and of nothing from before.
 */
export function descentsOf(policy: Policy, state: AppState, exchange: Exchange): readonly Descent[] {
  const { request, response, route, visitor } = exchange;
  if (response.setCookie.length === 0 && response.body.kind !== 'tokens') return NONE;
  // Whoever gave the old password for a new one has a session for that.
  if (route?.task === 'change-password' && policy.password?.change?.asksOld === true) return NONE;
  const handed = handedOut(exchange);
  const descents: Descent[] = [];
  const add = (from: string | null, isFor: (handle: string) => boolean) => {
    const to = from === null ? [] : handed.filter((each) => each !== from && isFor(each));
    if (from !== null && to.length > 0) descents.push({ from, to });
  };
  if (route?.task === 'refresh') {
    const shown = request.form.get('refresh_token') ?? tokenInCookie(policy.tokens, request, 'refresh');
    add(shown, isToken);
  }
  const entered = letsIn(exchange);
  const resumed = resumedBy(policy, state, exchange);
  if (resumed !== null) {
    const series = state.remembered[indexOf('remember', resumed)]?.series;
    add(
      resumed,
      (each) =>
        indexOf('remember', each) >= 0 && state.remembered[indexOf('remember', each)]?.series === series,
    );
    if (!entered) add(resumed, isSession);
  } else if (!entered && visitor.account !== null && visitor.session >= 0) {
    add(handle('session', visitor.session), isSession);
  }
  return descents;
}

const NONE: readonly Descent[] = [];

function isSession(each: string): boolean {
  return indexOf('session', each) >= 0;
}

function isToken(each: string): boolean {
  return indexOf('access', each) >= 0 || indexOf('refresh', each) >= 0;
}

/** The remember token for which a visitor got a session in this very exchange; null where that is not so. */
function resumedBy(policy: Policy, state: AppState, { request, visitor }: Exchange): string | null {
  const { remember, session } = policy;
  if (remember === null || visitor.session < 0) return null;
  const shown = cookieValue(request.cookie, session.cookie.name);
  if (shown === handle('session', visitor.session)) return null;
  const token = cookieValue(request.cookie, remember.cookie.name);
  return token !== null && state.remembered[indexOf('remember', token)] !== undefined ? token : null;
}

/** Every credential that a response hands out, in a cookie or to script. */
function handedOut({ response: { setCookie, body } }: Exchange): string[] {
  const values = setCookie.flatMap((header) => {
    const end = header.indexOf(';');
    const pair = end < 0 ? header : header.slice(0, end);
    const value = pair.slice(pair.indexOf('=') + 1);
    return value === '' ? [] : [value];
  });
  if (body.kind !== 'tokens') return values;
  return [...values, body.accessToken, body.refreshToken ?? ''].filter((each) => each !== '');
}

/** The credential that a visitor was known by in an exchange; null for a guest. */
export function knownBy(policy: Policy, { request, visitor }: Exchange): string | null {
  if (visitor.account === null) return null;
  if (visitor.by === 'session') return handle('session', visitor.session);
  const index = bearerIndex(request.authorization);
  if (index >= 0) return handle('access', index);
  return policy.tokens?.kept === 'cookie' ? cookieValue(request.cookie, TOKEN_COOKIES.access) : null;
}
