import type { Policy, StatedAudience } from './policy.js';
import type { Audience } from '../vocabulary/audience.js';

// What is stated in several places of a policy, gathered from all of them.

/** Every audience that a policy states, with its place; one that stands for reads and writes alike comes once. */
export function statedAudiences({ pages, rules, menu, barriers, otherwise }: Policy): StatedAudience[] {
  const stated = [...pages, ...rules].flatMap(({ audiences: { read, write, methods } }) =>
    read === write ? [read, ...methods.values()] : [read, write, ...methods.values()],
  );
  const parts = pages.flatMap((page) => page.parts.map(({ audience }) => audience));
  const links = menu.map((link) => link.audience);
  const stopped = barriers.map(({ stops }) => stops);
  return [
    ...[...stated, ...parts, ...links, ...stopped].filter((each) => each !== null),
    { audience: otherwise, at: ['otherwise'] },
  ];
}

/** Every audience that a policy states. */
export function audiencesOf(policy: Policy): Audience[] {
  return statedAudiences(policy).map(({ audience }) => audience);
}

/** What is asked of one fact, all over a policy. */
export interface FactAsked {
  /** The values that are asked for by name. */
  readonly values: ReadonlySet<string>;
  /** Whether its value is compared with a parameter of a path: then each value is a tenant's. */
  readonly isTenant: boolean;
}

const asked = new WeakMap<Policy, ReadonlyMap<string, FactAsked>>();

/** Every fact that an audience or an entry of a list of landings asks for. */
export function factsAsked(policy: Policy): ReadonlyMap<string, FactAsked> {
  let known = asked.get(policy);
  if (known === undefined) asked.set(policy, (known = gatherFacts(policy)));
  return known;
}

function gatherFacts(policy: Policy): ReadonlyMap<string, FactAsked> {
  const { landing, logins, logout, pages } = policy;
  const found = new Map<string, { values: Set<string>; isTenant: boolean }>();
  const entries = [
    ...landing,
    ...logins.flatMap((login) => login.landing),
    ...(logout?.lands ?? []),
    ...pages.flatMap(({ forward }) => forward?.entries ?? []),
  ];
  const conditions = [
    ...audiencesOf(policy).flatMap((each) => (each.who === 'some' ? [each.facts] : [])),
    ...entries.flatMap(({ facts }) => (facts === null ? [] : [facts])),
  ];
  for (const condition of conditions) {
    for (const [name, { values, parameters }] of condition) {
      const known = found.get(name) ?? { values: new Set<string>(), isTenant: false };
      for (const value of values) known.values.add(value);
      found.set(name, { values: known.values, isTenant: known.isTenant || parameters.length > 0 });
    }
  }
  return found;
}

/** The switches of which any audience depends. */
export function flagsAsked(policy: Policy): string[] {
  const flags = audiencesOf(policy).flatMap((each) => (each.who === 'some' ? [...each.flags.keys()] : []));
  return [...new Set(flags)];
}

/** Whether script keeps people out anywhere. */
export function isGuardedByScript({ pages, rules }: Policy): boolean {
  return [...pages, ...rules].some(({ guard }) => guard === 'browser');
}
