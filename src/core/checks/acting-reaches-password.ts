import { closedWhileActing } from '../app/acting.js';
import type { Endpoint } from '../language/policy.js';
import { actedFor } from './acted-for.js';
import { check } from './check.js';

/** Whoever acts for somebody cannot change their password. */
export const actingReachesPassword = check<{ request: string; who: string }>({
  meta: {
    code: 'acting-reaches-password',
    severity: 'warning',
    title: 'Whoever acts for somebody cannot change their password.',
    why: 'Helping somebody becomes having their account: whoever chooses the password can come back any time, as them, and nobody sees who it was.',
    cwe: 'CWE-269',
    mend: 'Name the page and the request under impersonation.not.',
  },
  *find(facts) {
    const { impersonation, password } = facts.policy;
    const change = password?.change ?? null;
    if (impersonation === null || change === null) return;
    const { router } = facts.stage.app;
    const page: Endpoint = { at: change.at, method: 'GET', path: change.page };
    for (const { method, path } of [page, change.submit]) {
      const route = facts.route(path, method);
      if (route === null || closedWhileActing(impersonation, router, route, { actedBy: '' }) >= 0) continue;
      const open = actedFor(facts).find(({ visitor }) => facts.admits(route.grounds.audience, visitor));
      if (open === undefined) continue;
      yield {
        at: impersonation.at,
        params: { request: `${method} ${path}`, who: open.who },
        related: [{ at: change.at, message: 'here the password is changed' }],
      };
      return;
    }
  },
  message: ({ request, who }) => `whoever acts for ${who} comes to ${request}, which changes the password`,
});
