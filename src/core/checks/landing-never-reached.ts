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
    const { landing, logins } = facts.policy;
    for (const list of [landing, ...logins.map((login) => login.landing)]) {
      yield* neverReached(list, facts.policy);
    }
  },
  message: ({ to, by }) => `nobody lands at ${to} by this entry: the one for ${by} takes them all`,
});

function* neverReached(landing: readonly LandingEntry[], { roles }: Policy) {
  for (const [index, entry] of landing.entries()) {
    const earlier = landing.slice(0, index).filter((each) => each.facts === null);
    const taker = (held: ReadonlySet<string>) =>
      earlier.find((each) => each.role === null || each.role.some((role) => held.has(role)));
    const held =
      entry.role === null
        ? [new Set<string>()]
        : entry.role.map((role) => roles.get(role)?.holds ?? new Set<string>());
    const takers = held.map(taker);
    const first = takers[0];
    if (first === undefined || takers.includes(undefined)) continue;
    yield {
      at: entry.at,
      params: { to: entry.to, by: first.role === null ? 'otherwise' : first.role.join(' and ') },
      related: [{ at: first.at, message: 'this entry comes first' }],
    };
  }
}
