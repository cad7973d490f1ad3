import {
  acceptedReturn,
  filledPath,
  landingEntry,
  type Claims,
  type PageBody,
  type Stage,
} from '../core/internal.js';

/** What the script of a single page knows without asking. */
export interface FrontEnd {
  pageAt(path: string): Pick<PageBody, 'guard' | 'loads'>;
  /** Where it goes after a login. */
  nextFor(claims: Claims, asked: string | null): string;
}

/** The front end that a policy describes: it is what plays where no script runs, and so what it does is not judged. */
export function frontEndOf({ app: { policy, router } }: Stage): FrontEnd {
  return {
    pageAt(path) {
      const route = router.find('GET', path);
      if (route?.page === undefined || route.page === null) return { guard: null, loads: [] };
      const { grounds, parameters, page } = route;
      const guard = page.guard === 'browser' ? { audience: grounds.audience, parameters } : null;
      const loads = page.loads.map(({ method, path: to }) => ({ method, path: filledPath(to, parameters) }));
      return { guard, loads };
    },
    nextFor({ roles }, asked) {
      const rules = policy.login?.return ?? null;
      const back = rules === null || asked === null ? null : acceptedReturn(rules, asked, policy.origin);
      return back ?? landingEntry(policy, { roles, facts: new Map() })?.to ?? '/';
    },
  };
}
