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
  return ALL.flatMap((what): Holding[] => {
    const handle = handleOf(stage, browser, what, new FixedClock(time));
    return handle === null ? [] : [holdingOf(stage, state, what, handle, time)];
  });
}

/** A credential by its handle, as the app sees it at an instant. */
export function holdingOf(
  stage: Stage,
  state: AppState,
  what: Credential,
  handle: string,
  time: Seconds,
): Holding {
  const clock = new FixedClock(time);
  const left = limitsOf(stage, state, what, handle).map(({ limit, end }) => ({
    limit,
    seconds: Math.max(0, end - time),
  }));
  const good = counts(stage, state, what, handle, clock);
  const because = good ? null : faultOf(stage, state, what, handle, clock);
  return { what, handle, counts: good, because, left };
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
  if (record.account === null) return sessionFault(app, record, clock) ?? 'guest';
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

/** A credential that the app has on record, whoever holds it. */
export interface Recorded extends Holding {
  readonly account: string;
}

/** All that the app has handed out, with the time that is left of each; for sealed sessions that is what it once sealed. */
export function recordsOf(stage: Stage, state: AppState, time: Seconds): Recorded[] {
  const owner = (family: number) => state.families[family]?.account ?? '';
  const accounts: Record<Credential, readonly string[]> = {
    session: state.sessions.map(({ account }) => account ?? 'guest'),
    access: state.accessTokens.map(({ family }) => owner(family)),
    refresh: state.refreshTokens.map(({ family }) => owner(family)),
    remember: state.remembered.map(({ account }) => account),
  };
  return ALL.flatMap((what) =>
    accounts[what].map((account, index) => ({
      ...holdingOf(stage, state, what, handle(what, index), time),
      account,
    })),
  );
}
