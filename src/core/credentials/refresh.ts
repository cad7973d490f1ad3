import { accessLife } from './access.js';
import { isActive, type CredentialKind } from './credential-kind.js';
import { ofFamily } from './tokens.js';

/** The token that new ones are got for (RFC 6749 §6, RFC 9700 §4.14). */
export const refresh: CredentialKind = {
  ...ofFamily('refresh', ({ refreshTokens }) => refreshTokens),
  getsMore: true,
  gotFor: () => null,
  counts(app, state, index, clock) {
    const token = state.refreshTokens[index];
    const family = token && state.families[token.family];
    const rules = app.policy.tokens?.refresh ?? null;
    if (rules === null || token === undefined || family === undefined || family.ended !== null) return false;
    if (rules.longest !== null && clock.elapsed(family.startedAt, rules.longest)) return false;
    if (!isActive(state, family.account)) return false;
    if (token.replaced !== null) {
      // Within the grace it still gets the answer that it got once.
      if (!clock.elapsed(token.replaced.at, rules.grace)) return true;
      if (rules.reuse !== 'accept') return false;
    }
    const since = rules.rotates ? token.issuedAt : family.startedAt;
    return !clock.elapsed(since, rules.life);
  },
  faultOf: () => null,
  limits: [
    {
      name: 'life',
      deadline: 'refresh-expiry',
      life: ({ tokens }) => tokens?.refresh?.life ?? null,
      since({ tokens }, { refreshTokens, families }, index) {
        const token = refreshTokens[index];
        return tokens?.refresh?.rotates === true ? token?.issuedAt : families[token?.family ?? -1]?.startedAt;
      },
    },
    {
      name: 'longest',
      deadline: null,
      life: ({ tokens }) => tokens?.refresh?.longest ?? null,
      since: (_, { refreshTokens, families }, index) =>
        families[refreshTokens[index]?.family ?? -1]?.startedAt,
    },
  ],
  longest(policy) {
    const rules = policy.tokens?.refresh ?? null;
    const last = accessLife(policy);
    if (rules === null || last === null) return null;
    if (!rules.rotates) return rules.life + last;
    return rules.longest === null ? null : rules.longest + last;
  },
};
