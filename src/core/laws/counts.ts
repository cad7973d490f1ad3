import { indexOf, type AppState } from '../app/app.js';
import { sessionFault } from '../app/identify.js';
import { rememberFault } from '../app/remember.js';
import type { Clock } from '../clock.js';
import type { Credential } from '../language/policy.js';
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
  const isActive = (account: string | undefined) => state.accounts.get(account ?? '')?.state === 'active';
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
      if (token.replaced !== null && rules.reuse !== 'accept') return false;
      if (rules.longest !== null && clock.elapsed(family.startedAt, rules.longest)) return false;
      const since = rules.rotates ? token.issuedAt : family.startedAt;
      return !clock.elapsed(since, rules.life) && isActive(family.account);
    }
    case 'remember':
      return rememberFault(app, state, index, clock) === null && isActive(state.remembered[index]?.account);
  }
}

/** What credentials are called in sentences. */
export const CREDENTIAL_NAMES: Readonly<Record<Credential, string>> = {
  session: 'session cookie',
  access: 'access token',
  refresh: 'refresh token',
  remember: 'remember cookie',
};
