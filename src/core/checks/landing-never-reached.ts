import type { LandingEntry, Policy } from '../language/policy.js';
import { check } from './check.js';

/** Every landing entry lands somebody. */
export const landingNeverReached = check<{ to: string; by: string }>({
  meta: {
    code: 'landing-never-reached',
    severity: 'warning',
    title: 'Every landing entry lands somebody.',
    why: 'The first entry whose role is held decides. A role that includes an earlier one never gets to its own landing.',
    cwe: null,
    mend: 'Put the entry before the one that takes its people: the most particular role first.',
  },
  *find(facts) {
    const { landing, logins, logout, pages } = facts.policy;
    const forwards = pages.map(({ forward }) => forward?.entries ?? []);
    for (const list of [landing, ...logins.map((login) => login.landing), logout?.lands ?? [], ...forwards]) {
      yield* neverReached(list, facts.policy);
    }
  },
  message: ({ to, by }) => `nobody lands at ${to} by this entry: the one for ${by} takes them all`,
});

/** What stands for everybody among the roles that entries are for: no role has an empty name. */
const ANYBODY = '';

function* neverReached(landing: readonly LandingEntry[], { roles }: Policy) {
  const first = new Map<string, number>();
  for (const [index, entry] of landing.entries()) {
    const rolesHeld = (entry.role ?? [null]).map((role) =>
      role === null ? [] : [...(roles.get(role)?.holds ?? [])],
    );
    // The earliest entry that takes whoever holds all that, if there is one.
    const takers = rolesHeld.map((held) =>
      held.reduce(
        (least, role) => Math.min(least, first.get(role) ?? Infinity),
        first.get(ANYBODY) ?? Infinity,
      ),
    );
    const taker = landing[takers[0] ?? Infinity];
    if (entry.facts === null && entry.leaving === null) {
      for (const role of entry.role ?? [ANYBODY]) if (!first.has(role)) first.set(role, index);
    }
    if (taker === undefined || takers.includes(Infinity)) continue;
    yield {
      at: entry.at,
      params: { to: entry.to, by: taker.role === null ? 'otherwise' : taker.role.join(' and ') },
      related: [{ at: taker.at, message: 'this entry comes first' }],
    };
  }
}
