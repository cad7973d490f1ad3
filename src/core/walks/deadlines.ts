import { indexOf, type AppState } from '../app/app.js';
import type { BrowserState } from '../browser/state.js';
import { cookieValue } from '../http/cookies.js';
import { cookieHeader } from '../browser/cookie-jar.js';
import { FixedClock } from '../clock.js';
import type { Seconds } from '../language/duration.js';
import type { Deadline } from './walk.js';
import type { Stage } from './stage.js';

/**
 * The first second at which a credential that the browser holds no longer counts for the app; null where the browser
 * holds none or the policy sets no such limit.
 */
export function deadlineOf(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  deadline: Deadline,
  now: Seconds,
): Seconds | null {
  const { session, tokens, secondFactor, login } = stage.app.policy;
  switch (deadline) {
    case 'attempts-pause': {
      const paused = [...state.attempts.values()].map((each) => each.pausedAt).filter((at) => at !== null);
      return paused.length === 0 ? null : sum(Math.max(...paused), login?.attempts?.pause ?? null);
    }
    case 'remember-expiry': {
      const { remember } = stage.app.policy;
      const home = { origin: stage.client.origin, path: '/', query: '' };
      const header = cookieHeader(browser.cookies, home, new FixedClock(now));
      const shown = remember === null ? null : cookieValue(header, remember.cookie.name);
      const record = shown === null ? undefined : state.remembered[indexOf('remember', shown)];
      return record === undefined ? null : sum(record.issuedAt, remember?.life ?? null);
    }
    case 'code-expiry':
    case 'session-idle':
    case 'session-absolute': {
      const home = { origin: stage.client.origin, path: '/', query: '' };
      const id = cookieValue(cookieHeader(browser.cookies, home, new FixedClock(now)), session.cookie.name);
      const record = id === null ? undefined : state.sessions[indexOf('session', id)];
      if (record === undefined) return null;
      if (deadline === 'code-expiry') {
        return record.code === null ? null : sum(record.code.sentAt, secondFactor?.life ?? null);
      }
      return deadline === 'session-idle'
        ? sum(record.activeAt, session.idle)
        : sum(record.startedAt, session.absolute);
    }
    case 'access-expiry': {
      const token = state.accessTokens[indexOf('access', browser.tab.tokens?.access ?? '')];
      if (token === undefined || tokens === null) return null;
      return token.issuedAt + tokens.access.life + tokens.access.leeway;
    }
    case 'refresh-expiry': {
      const token = state.refreshTokens[indexOf('refresh', browser.tab.tokens?.refresh ?? '')];
      const family = token && state.families[token.family];
      if (token === undefined || family === undefined || !tokens?.refresh) return null;
      return sum(tokens.refresh.rotates ? token.issuedAt : family.startedAt, tokens.refresh.life);
    }
  }
}

function sum(since: Seconds, limit: Seconds | null): Seconds | null {
  return limit === null ? null : since + limit;
}
