import { handle, indexOf, type AppState } from '../app/app.js';
import { bearerIndex } from '../app/identify.js';
import { TOKEN_COOKIES, tokenInCookie } from '../app/token-cookies.js';
import { cookieValue } from '../http/cookies.js';
import type { Policy } from '../language/policy.js';
import type { Exchange } from '../walks/stage.js';
import { letsIn } from './entries.js';

/** What was handed out for a credential that a request showed: it goes on from that one, and is worth no less. */
export interface Descent {
  readonly from: string;
  readonly to: readonly string[];
}

/**
 * What an exchange handed out on the strength of a credential alone: tokens for a refresh token, a session and the next remember
 * token for a remember token, a sealed session for the one before it. What a password or a one-time code was given for comes
 * of that, and of nothing from before.
 */
export function descentOf(policy: Policy, state: AppState, exchange: Exchange): Descent | null {
  const { request, response, route, visitor } = exchange;
  if (route?.task === 'refresh') {
    const shown = request.form.get('refresh_token') ?? tokenInCookie(policy.tokens, request, 'refresh');
    return descent(shown, handedOut(exchange));
  }
  if (response.setCookie.length === 0) return null;
  const resumed = resumedBy(policy, state, exchange);
  if (resumed !== null) {
    const own = letsIn(exchange) ? [] : handedOut(exchange).filter((each) => each.startsWith('session'));
    return descent(resumed, [...own, ...sameSeries(state, resumed, handedOut(exchange))]);
  }
  if (letsIn(exchange) || visitor.account === null || visitor.session < 0) return null;
  return descent(
    handle('session', visitor.session),
    handedOut(exchange).filter((each) => each.startsWith('session')),
  );
}

function descent(from: string, to: readonly string[]): Descent | null {
  const others = to.filter((each) => each !== from);
  return from === '' || others.length === 0 ? null : { from, to: others };
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

function sameSeries({ remembered }: AppState, token: string, handed: readonly string[]): string[] {
  const series = remembered[indexOf('remember', token)]?.series;
  return handed.filter((each) => {
    const record = remembered[indexOf('remember', each)];
    return record !== undefined && record.series === series;
  });
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
