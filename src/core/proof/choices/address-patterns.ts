// Step 3 of docs/proof-method.md: what is tried.

import type { Policy } from '../../language/policy.js';
import { parsePattern, type Pattern, type Segment } from '../../paths/pattern.js';

/** Every pattern that tells addresses apart; of pages of their owner those of every kind of owner. */
export function patternsOf(policy: Policy, owners: readonly string[]): Pattern[] {
  const { pages, rules, promises, login, logout, tokens, signUp, confirm, secondFactor } = policy;
  const endpoints = [
    login?.page,
    login?.submit.path,
    ...(logout?.submits ?? []).map(({ path }) => path),
    tokens?.submit.path,
    tokens?.revoke?.path,
    signUp?.page,
    signUp?.submit.path,
    secondFactor?.page,
    secondFactor?.submit.path,
  ];
  const exact = endpoints.flatMap((address) => {
    const pattern = parsePattern(address?.split('?')[0] ?? '');
    return typeof pattern === 'string' ? [] : [pattern];
  });
  const patterns = [
    ...pages.map(({ pattern }) => pattern),
    ...rules.flatMap((rule) => rule.patterns),
    ...promises.flatMap(({ reach }) => reach),
  ];
  const owned = new Set(ownersNamed(policy));
  return [
    ...patterns,
    ...exact,
    ...(confirm === null ? [] : [confirm.pattern]),
    ...patterns.flatMap((pattern) => owners.flatMap((owner) => ownedBy(pattern, owned, owner))),
  ];
}

/** The parameters that name an account in some audience. */
export function ownersNamed({ pages, rules }: Policy): string[] {
  return [...pages, ...rules].flatMap(({ audiences: { read, write, methods } }) =>
    [read, write, ...methods.values()].flatMap((stated) =>
      stated?.audience.who === 'some' && stated.audience.account !== null ? [stated.audience.account] : [],
    ),
  );
}

/** A pattern with an account's name in the place of a parameter that names one. */
function ownedBy(pattern: Pattern, owned: ReadonlySet<string>, owner: string): Pattern[] {
  const isOwned = (segment: Segment) => segment.kind === 'name' && owned.has(segment.name);
  if (!pattern.segments.some(isOwned)) return [];
  const named = encodeURIComponent(owner);
  return [
    {
      ...pattern,
      segments: pattern.segments.map((segment) =>
        isOwned(segment) ? { kind: 'literal', text: named } : segment,
      ),
    },
  ];
}
