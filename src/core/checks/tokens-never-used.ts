import { check } from './check.js';

/** What is handed out is used. */
export const tokensNeverUsed = check<{ what: string }>({
  meta: {
    code: 'tokens-never-used',
    severity: 'warning',
    title: 'What is handed out is used.',
    why: 'A credential that nobody uses can still be stolen, and a section that does nothing misleads its readers.',
    cwe: null,
    mend: 'Hand the tokens out (login.by) and refresh them (refresh-when), or leave them out.',
  },
  *find(facts) {
    const { login, tokens } = facts.policy;
    if (login === null || tokens === null) return;
    if (login.by === 'session') {
      yield { at: ['tokens'], params: { what: 'the login hands no tokens out (login.by is session)' } };
    } else if (tokens.refresh !== null && tokens.refreshWhen === 'never') {
      yield {
        at: ['tokens', 'refresh-when'],
        params: { what: 'the refresh token is handed out and never used' },
      };
    }
  },
  message: ({ what }) => what,
});
