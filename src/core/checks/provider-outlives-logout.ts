import { check } from './check.js';

/** Whoever has logged out is not signed in again by one click. */
export const providerOutlivesLogout = check<{ name: string }>({
  meta: {
    code: 'provider-outlives-logout',
    severity: 'warning',
    title: 'Whoever has logged out is not signed in again by one click.',
    why: 'The provider still knows the browser. At a shared one the next person presses the button and is in, without a password.',
    cwe: 'CWE-613',
    mend: 'Set logout of the provider to provider-too, or asks-again to true; or accept it, where everybody has a browser of their own.',
  },
  *find({ policy: { providers, logout } }) {
    if (logout === null) return;
    for (const { at, name, logout: how, asksAgain, start } of providers) {
      if (how === 'provider-too' || asksAgain) continue;
      yield {
        at,
        params: { name },
        shownBy: `after the logout GET ${start.path} signs in again, and asks for nothing`,
      };
    }
  },
  message: ({ name }) => `after the logout ${name} still knows the browser, and one click signs in again`,
});
