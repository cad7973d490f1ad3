import { check } from './check.js';

/** The token endpoint is open to those whose access token is over. */
export const tokenEndpointClosed = check<{ path: string; who: string }>({
  meta: {
    code: 'token-endpoint-closed',
    severity: 'error',
    title: 'The token endpoint is open to those whose access token is over.',
    why: 'Whoever comes to refresh has no access token that counts any more. An endpoint that asks for one refuses them all, and where every 401 is answered with a refresh, the refresh calls itself.',
    cwe: 'CWE-835',
    mend: 'Put a rule for the token endpoint before the others: { path: /oauth/token, for: everyone }.',
  },
  *find(facts) {
    const { login, tokens } = facts.policy;
    if (login === null || login.by === 'session' || tokens === null || tokens.refresh === null) return;
    const { method, path } = tokens.submit;
    const route = facts.route(path, method);
    if (route === null || facts.admits(route.grounds.audience, facts.guest, route.parameters)) return;
    yield {
      at: route.grounds.at,
      params: { path, who: 'whoever comes with a refresh token only' },
      related: [{ at: tokens.submit.at, message: 'the token endpoint' }],
    };
  },
  message: ({ path, who }) => `${path} refuses ${who}`,
});
