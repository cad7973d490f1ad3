import { isCalledBack } from '../app/called-back.js';
import type { Policy } from '../language/policy.js';
import type { Seconds } from '../time/duration.js';
import { isActive, type CredentialKind } from './credential-kind.js';
import { ofFamily } from './tokens.js';

/** How long an access token is taken, the leeway included (RFC 7519 §4.1.4); null where the policy gives none. */
export function accessLife({ tokens }: Policy): Seconds | null {
  return tokens === null ? null : tokens.access.life + tokens.access.leeway;
}

/** The token that a request shows (RFC 6750). */
export const access: CredentialKind = {
  ...ofFamily('access', ({ accessTokens }) => accessTokens),
  getsMore: false,
  gotFor: ({ accessTokens }, index) => (accessTokens[index]?.renewed === true ? 'refresh' : null),
  counts(app, state, index, clock) {
    const { tokens } = app.policy;
    const token = state.accessTokens[index];
    const family = token && state.families[token.family];
    if (tokens === null || token === undefined || family === undefined) return false;
    if (clock.elapsed(token.issuedAt, tokens.access.life + tokens.access.leeway)) return false;
    if (isCalledBack(app.policy, family)) return false;
    return tokens.roles === 'in-token' || isActive(state, family.account);
  },
  faultOf: () => null,
  limits: [
    {
      name: 'life',
      deadline: 'access-expiry',
      life: accessLife,
      since: (_, { accessTokens }, index) => accessTokens[index]?.issuedAt,
    },
  ],
  longest: accessLife,
};
