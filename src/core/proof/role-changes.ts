import type { Account, Policy } from '../language/policy.js';
import type { Audience } from '../vocabulary/audience.js';

/**
 * The roles that somebody with access to the app may leave an account with: none, and its own with one that shuts out of
 * something.
 */
export function roleChanges(policy: Policy, { given }: Pick<Account, 'given'>): (readonly string[])[] {
  const added = excluding(policy).filter((role) => !given.includes(role));
  return [[], ...added.map((role) => [...given, role])];
}

/** The roles that some audience shuts out. */
function excluding({ pages, rules, otherwise }: Policy): string[] {
  const stated = [...pages, ...rules].flatMap(({ audiences: { read, write, methods } }) =>
    [read, write, ...methods.values()].flatMap((each) => (each === null ? [] : [each.audience])),
  );
  const shut = (audience: Audience) => (audience.who === 'some' ? audience.none : []);
  return [...new Set([...stated, otherwise].flatMap(shut))];
}
