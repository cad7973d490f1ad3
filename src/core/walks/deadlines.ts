import { indexOf, type AppState } from '../app/app.js';
import type { BrowserState } from '../browser/state.js';
import { FixedClock } from '../clock.js';
import type { Seconds } from '../language/duration.js';
import type { Credential } from '../language/policy.js';
import { handleOf } from './holdings.js';
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
  const { session, tokens, secondFactor, login, remember } = stage.app.policy;
  const shown = (what: Credential) => {
    const handle = handleOf(stage, browser, what, new FixedClock(now));
    return handle === null ? -1 : indexOf(what, handle);
  };
  switch (deadline) {
    case 'attempts-pause': {
      const paused = [...state.attempts.values()].map((each) => each.pausedAt).filter((at) => at !== null);
      return paused.length === 0 ? null : sum(Math.max(...paused), login?.attempts?.pause ?? null);
    }
    case 'remember-expiry':
      return sum(state.remembered[shown('remember')]?.issuedAt, remember?.life ?? null);
    case 'code-expiry':
      return sum(state.sessions[shown('session')]?.code?.sentAt, secondFactor?.life ?? null);
    case 'session-idle':
      return sum(state.sessions[shown('session')]?.activeAt, session.idle);
    case 'session-absolute':
      return sum(state.sessions[shown('session')]?.startedAt, session.absolute);
    case 'access-expiry': {
      const life = tokens === null ? null : tokens.access.life + tokens.access.leeway;
      return sum(state.accessTokens[shown('access')]?.issuedAt, life);
    }
    case 'refresh-expiry': {
      const token = state.refreshTokens[shown('refresh')];
      const family = token && state.families[token.family];
      const since = tokens?.refresh?.rotates === true ? token?.issuedAt : family?.startedAt;
      return sum(since, tokens?.refresh?.life ?? null);
    }
  }
}

function sum(since: Seconds | undefined, limit: Seconds | null): Seconds | null {
  return since === undefined || limit === null ? null : since + limit;
}
