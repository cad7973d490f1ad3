import { NO_LOGIN, type AppState } from '../app/app.js';
import { TOKEN_COOKIES } from '../app/token-cookies.js';
import type { CredentialKind } from './credential-kind.js';

/** What is so of both kinds of tokens: each is of a family, which has an owner, and script or a cookie keeps it. */
export function ofFamily(
  slot: 'access' | 'refresh',
  tokensOf: (state: AppState) => readonly { readonly family: number }[],
): Pick<CredentialKind, 'name' | 'recorded' | 'ownerOf' | 'loginOf' | 'recordsOf' | 'place'> {
  return {
    name: slot,
    recorded: (state) => tokensOf(state).length,
    ownerOf: (state, index) => state.families[tokensOf(state)[index]?.family ?? -1]?.account,
    loginOf: (state, index) => state.families[tokensOf(state)[index]?.family ?? -1]?.login ?? NO_LOGIN,
    recordsOf(state, index) {
      const found = tokensOf(state)[index];
      return found === undefined ? [] : [`family ${found.family}`];
    },
    place: ({ tokens }) =>
      tokens?.kept === 'cookie'
        ? { by: 'cookie', names: { name: TOKEN_COOKIES[slot], others: [], path: '/' }, isToken: true }
        : { by: 'script', slot },
  };
}
