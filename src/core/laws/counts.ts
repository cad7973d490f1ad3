import { indexOf, type AppState } from '../app/app.js';
import { sessionFault } from '../app/identify.js';
import { rememberFault } from '../app/remember.js';
import type { BrowserState } from '../browser/state.js';
import type { Clock } from '../clock.js';
import { CREDENTIALS, type Credential } from '../language/policy.js';
import { handleOf } from '../walks/holdings.js';
import type { Stage } from '../walks/stage.js';

/** Whether the app would still take a credential for somebody, whoever shows it. */
export function counts(
  { app }: Stage,
  state: AppState,
  what: Credential,
  handle: string,
  clock: Clock,
): boolean {
  const { tokens, logout } = app.policy;
  const index = indexOf(what, handle);
  const isActive = (account: string | null | undefined) =>
    state.accounts.get(account ?? '')?.state === 'active';
  switch (what) {
    case 'session': {
      const record = state.sessions[index];
      if (record === undefined || record.half || !isActive(record.account)) return false;
      return sessionFault(app, record, clock) === null;
    }
    case 'access': {
      const token = state.accessTokens[index];
      const family = token && state.families[token.family];
      if (tokens === null || token === undefined || family === undefined) return false;
      if (clock.elapsed(token.issuedAt, tokens.access.life + tokens.access.leeway)) return false;
      if (family.ended !== null && logout?.ends.has('access') === true) return false;
      return tokens.roles === 'in-token' || isActive(family.account);
    }
    case 'refresh': {
      const token = state.refreshTokens[index];
      const family = token && state.families[token.family];
      const rules = tokens?.refresh ?? null;
      if (rules === null || token === undefined || family === undefined || family.ended !== null) {
        return false;
      }
      if (rules.longest !== null && clock.elapsed(family.startedAt, rules.longest)) return false;
      if (!isActive(family.account)) return false;
      if (token.replaced !== null) {
        // Within the grace it still gets the answer that it got once.
        if (!clock.elapsed(token.replaced.at, rules.grace)) return true;
        if (rules.reuse !== 'accept') return false;
      }
      const since = rules.rotates ? token.issuedAt : family.startedAt;
      return !clock.elapsed(since, rules.life);
    }
    case 'remember':
      return rememberFault(app, state, index, clock) === null && isActive(state.remembered[index]?.account);
  }
}

/** A credential that a browser has and the app would take; null for none. */
export function heldCounting(
  stage: Stage,
  state: AppState,
  browser: BrowserState,
  clock: Clock,
): string | null {
  for (const what of CREDENTIALS) {
    const held = handleOf(stage, browser, what, clock);
    if (held !== null && counts(stage, state, what, held, clock)) return held;
  }
  return null;
}

/** The kind of credential that a handle is of. */
export function kindOf(handle: string): Credential {
  return CREDENTIALS.find((kind) => handle.startsWith(kind)) ?? 'session';
}

/** What credentials are called in sentences. */
export const CREDENTIAL_NAMES: Readonly<Record<Credential, string>> = {
  session: 'session cookie',
  access: 'access token',
  refresh: 'refresh token',
  remember: 'remember cookie',
};

/** What was left behind, in words: a copy of it, or what was got for one. */
export function copyWords({ what, handle }: { readonly what: Credential; readonly handle: string }): string {
  const copy = `a copy of the ${CREDENTIAL_NAMES[what]}`;
  const kind = kindOf(handle);
  return kind === what ? copy : `the ${CREDENTIAL_NAMES[kind]} got for ${copy}`;
}
