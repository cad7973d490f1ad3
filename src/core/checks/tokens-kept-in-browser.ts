import { check } from './check.js';

/** Tokens go with the tab they belong to. */
export const tokensKeptInBrowser = check<{ refresh: boolean }>({
  meta: {
    code: 'tokens-kept-in-browser',
    severity: 'warning',
    title: 'Tokens go with the tab they belong to.',
    why: 'What lies in the storage of the whole browser stays there after the tab is closed, and any script in any page of the site can read it.',
    cwe: 'CWE-922',
    mend: 'Keep tokens in the tab (kept: tab).',
  },
  *find(facts) {
    const { login, tokens } = facts.policy;
    if (login === null || login.by === 'session' || tokens?.kept !== 'browser') return;
    yield { at: ['tokens', 'access', 'kept'], params: { refresh: tokens.refresh !== null } };
  },
  message: ({ refresh }) =>
    `${refresh ? 'the tokens lie' : 'the access token lies'} where every script of the site can read them, also after the tab is closed`,
});
