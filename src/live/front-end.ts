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
  pageAt(path: string): Pick<PageBody, 'guard' | 'loads' | 'refusals'>;
  /** Where it goes after a login. */
  nextFor(claims: Claims, asked: string | null): string;
}

/** The front end that a policy describes: it is what plays where no script runs, and so what it does is not judged. */
export function frontEndOf({ app: { policy, router } }: Stage): FrontEnd {
  const flags = new Set([...policy.flags].flatMap(([name, isOn]) => (isOn ? [name] : [])));
  return {
    pageAt(path) {
      const route = router.find('GET', path);
      if (route?.page === undefined || route.page === null) return NOTHING;
      const { grounds, parameters, page } = route;
      const parts = page.parts.map(({ name, audience }) => ({ name, audience: audience.audience }));
      // How switches stand only the app knows: they are taken to be as the policy has them at first.
      const guard =
        route.guard === 'browser' ? { audience: grounds.audience, parameters, flags, parts } : null;
      const loads = page.loads.map(({ method, path: to }) => ({ method, path: filledPath(to, parameters) }));
      return { guard, loads, refusals: route.refusals === policy.refusals.page ? null : route.refusals };
    },
    nextFor({ roles }, asked) {
      const rules = policy.login?.return ?? null;
      const back = rules === null || asked === null ? null : acceptedReturn(rules, asked, policy);
      return back ?? landingEntry(policy, { roles, facts: new Map() })?.to ?? '/';
    },
  };
}

const NOTHING = { guard: null, loads: [], refusals: null } as const;
