import { check } from './check.js';

/** Requests in flight together share one refresh. */
export const refreshUnshared = check<{ readonly of: 'tabs' | 'requests' }>({
  meta: {
    code: 'refresh-unshared',
    severity: 'warning',
    title: 'Requests in flight together share one refresh.',
    why: 'Where each of them refreshes by itself and tokens rotate, all but the first show a token that is already used, and an honest visitor is thrown out.',
    cwe: null,
    mend: 'Set tokens.shared-refresh to true, or allow a short grace; what is left out is enough where each tab has tokens of its own.',
  },
  *find(facts) {
    const { tokens } = facts.policy;
    if (tokens === null || tokens.refreshWhen === 'never') return;
    const tabsShare = tokens.kept === 'browser' || tokens.kept === 'cookie';
    if (tokens.sharedRefresh === true || (tokens.sharedRefresh !== false && !tabsShare)) return;
    if (tokens.refresh?.rotates !== true || tokens.refresh.grace > 0 || tokens.refresh.reuse === 'accept') {
      return;
    }
    yield {
      at: ['tokens', 'shared-refresh'],
      params: { of: tokens.sharedRefresh === false ? 'requests' : 'tabs' },
    };
  },
  message: ({ of }) =>
    `two ${of} that find the access token expired refresh with the same token, and the second is taken for a thief`,
});
