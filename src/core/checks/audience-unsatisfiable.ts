import type { Policy } from '../language/policy.js';
import type { Audience } from '../vocabulary/audience.js';
import { check } from './check.js';

/** An audience must be possible. */
export const audienceUnsatisfiable = check<{ refusedFor: string }>({
  meta: {
    code: 'audience-unsatisfiable',
    severity: 'error',
    title: 'Somebody can be in every audience.',
    why: 'A page that nobody can ever see is a mistake: the roles it asks for bring a role that it excludes.',
    cwe: null,
    mend: 'Take the role out of none, or ask for another one.',
  },
  *find(facts) {
    for (const { audience, at } of facts.audiences) {
      const refusedFor = contradiction(audience, facts.policy);
      if (refusedFor !== null) yield { at, params: { refusedFor } };
    }
  },
  message: ({ refusedFor }) =>
    `nobody can be in this audience: whoever holds the roles it asks for holds ${refusedFor} too`,
});

/** A role that everyone who meets the conditions holds although it is excluded. More roles than needed never help. */
function contradiction(audience: Audience, policy: Policy): string | null {
  if (audience.who !== 'some') return null;
  const { any, all, none } = audience;
  const excluded = [null, ...(any ?? [])].slice(any === null ? 0 : 1).map((choice) => {
    const needed = choice === null ? all : [...all, choice];
    const held = new Set(needed.flatMap((role) => [...(policy.roles.get(role)?.holds ?? [])]));
    return none.find((role) => held.has(role)) ?? null;
  });
  return excluded.includes(null) ? null : (excluded[0] ?? null);
}

/** Whether nobody at all can be in an audience. */
export function isContradiction(audience: Audience, policy: Policy): boolean {
  return contradiction(audience, policy) !== null;
}
