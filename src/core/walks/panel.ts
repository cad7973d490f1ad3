import { handle, indexOf, type AppState } from '../app/app.js';
import { sessionFault } from '../app/identify.js';
import { rememberFault } from '../app/remember.js';
import type { Reason } from '../app/reasons.js';
import type { BrowserState } from '../browser/state.js';
import { FixedClock } from '../clock.js';
import type { Seconds } from '../language/duration.js';
import type { Credential } from '../language/policy.js';
import { counts } from '../laws/counts.js';
import { handleOf } from './holdings.js';
import type { Stage } from './stage.js';

/** A credential that a browser has, as the app sees it. */
export interface Holding {
  readonly what: Credential;
  readonly handle: string;
  readonly counts: boolean;
  /** Why it does not count; null where it does, or where it is simply over. */
  readonly because: Reason | null;
  /** Each of its limits with the seconds left, 0 once it is over. */
  readonly left: readonly { readonly limit: string; readonly seconds: Seconds }[];
}

const ALL = ['session', 'access', 'refresh', 'remember'] as const;

/** What a browser holds at an instant, with the time that is left of each. */
export function holdingsOf(stage: Stage, state: AppState, browser: BrowserState, time: Seconds): Holding[] {
  const clock = new FixedClock(time);
  return ALL.flatMap((what): Holding[] => {
    const handle = handleOf(stage, browser, what, clock);
    if (handle === null) return [];
    const left = limitsOf(stage, state, what, handle).map(({ limit, end }) => ({
      limit,
      seconds: Math.max(0, end - time),
    }));
    const good = counts(stage, state, what, handle, clock);
    return [
      { what, handle, counts: good, because: good ? null : faultOf(stage, state, what, handle, clock), left },
    ];
  });
}

function faultOf(
  { app }: Stage,
  state: AppState,
  what: Credential,
  handle: string,
  clock: FixedClock,
): Reason | null {
  const index = indexOf(what, handle);
  if (what === 'remember') return rememberFault(app, state, index, clock);
  if (what !== 'session') return null;
  const record = state.sessions[index];
  if (record === undefined) return 'session-lost';
  if (record.half) return 'code-needed';
  const account = state.accounts.get(record.account);
  if (account === undefined) return 'account-gone';
  return sessionFault(app, record, clock) ?? (account.state === 'active' ? null : account.state);
}

/** The ends of a credential, in seconds from the start of the walk. */
function limitsOf(
  { app }: Stage,
  state: AppState,
  what: Credential,
  handle: string,
): { readonly limit: string; readonly end: Seconds }[] {
  const { session, tokens, remember, secondFactor } = app.policy;
  const index = indexOf(what, handle);
  const ends = (limit: string, since: Seconds | undefined, life: Seconds | null | undefined) =>
    since === undefined || life === null || life === undefined ? [] : [{ limit, end: since + life }];
  switch (what) {
    case 'session': {
      const record = state.sessions[index];
      return [
        ...ends('idle', record?.activeAt, session.idle),
        ...ends('absolute', record?.startedAt, session.absolute),
        ...ends('code', record?.code?.sentAt, secondFactor?.life),
      ];
    }
    case 'access': {
      const token = state.accessTokens[index];
      return ends('life', token?.issuedAt, tokens && tokens.access.life + tokens.access.leeway);
    }
    case 'refresh': {
      const token = state.refreshTokens[index];
      const family = token && state.families[token.family];
      const since = tokens?.refresh?.rotates === true ? token?.issuedAt : family?.startedAt;
      return [
        ...ends('life', since, tokens?.refresh?.life),
        ...ends('longest', family?.startedAt, tokens?.refresh?.longest),
      ];
    }
    case 'remember':
      return ends('life', state.remembered[index]?.issuedAt, remember?.life);
  }
}

/** A session that the app has on record. */
export interface RecordedSession {
  readonly handle: string;
  readonly account: string;
  /** Why it does not count; null where it does. */
  readonly because: Reason | null;
}

/** The sessions that the app has on record, whoever holds them. */
export function sessionsOf(stage: Stage, state: AppState, time: Seconds): RecordedSession[] {
  const clock = new FixedClock(time);
  return state.sessions.map((record, index) => {
    const shown = handle('session', index);
    const good = counts(stage, state, 'session', shown, clock);
    const because = good ? null : faultOf(stage, state, 'session', shown, clock);
    return { handle: shown, account: record.account, because };
  });
}
