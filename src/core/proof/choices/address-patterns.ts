// Step 3 of docs/proof-method.md: what is tried.

import type { Account, Policy } from '../../language/policy.js';
import { audiencesOf } from '../../language/stated.js';
import { ownParameters } from '../../audience/all-conditions.js';
import { parsePattern, type Pattern, type Segment } from '../../paths/pattern.js';
import type { Audience } from '../../vocabulary/audience.js';
import { OTHER_TENANT } from './fact-changes.js';

/** Somebody whose own pages and tenants count. */
export type Owner = Pick<Account, 'name' | 'facts'>;

/** Every pattern that tells addresses apart; of pages of their owner or a tenant those of every kind of owner. */
export function patternsOf(policy: Policy, owners: readonly Owner[]): Pattern[] {
  const {
    pages,
    rules,
    promises,
    barriers,
    logins,
    logout,
    tokens,
    signUp,
    confirm,
    secondFactor,
    password,
    linkLogin,
    providers,
    impersonation,
  } = policy;
  const endpoints = [
    ...logins.flatMap(({ page, submit }) => [page, submit.path]),
    ...(logout?.submits ?? []).map(({ path }) => path),
    tokens?.submit.path,
    tokens?.revoke?.path,
    signUp?.page,
    signUp?.submit.path,
    secondFactor?.page,
    secondFactor?.submit.path,
    ...providers.flatMap(({ start, back }) => [start.path, back.path]),
    ...(impersonation === null ? [] : [impersonation.start.path, impersonation.stop.path]),
    ...[password?.change, password?.reset, linkLogin].flatMap((form) => [form?.page, form?.submit.path]),
  ];
  const exact = endpoints.flatMap((address) => {
    const pattern = parsePattern(address?.split('?')[0] ?? '');
    return typeof pattern === 'string' ? [] : [pattern];
  });
  const patterns = [
    ...pages.map(({ pattern }) => pattern),
    ...rules.flatMap((rule) => rule.patterns),
    ...promises.flatMap(({ reach }) => reach),
    ...barriers.flatMap(({ lets }) => lets),
    ...logins.flatMap((login) => {
      const accept = login.return?.accept ?? 'never';
      return typeof accept === 'string' ? [] : accept.listed;
    }),
    ...(impersonation?.not ?? []),
  ];
  const audiences = audiencesOf(policy);
  const named = owners.map((owner) => ownParameters(audiences, owner));
  const elsewhere = tenantsElsewhere(audiences);
  return [
    ...patterns,
    ...exact,
    ...[confirm, password?.reset?.link, linkLogin?.link].flatMap((link) => link?.pattern ?? []),
    ...patterns.flatMap((pattern) => [...named, elsewhere].flatMap((own) => ownedBy(pattern, own))),
  ];
}

/** The tenant that no account has, in the place of every parameter that names one. */
function tenantsElsewhere(audiences: readonly Audience[]): ReadonlyMap<string, readonly string[]> {
  const facts = audiences.flatMap((each) => (each.who === 'some' ? [...each.facts.values()] : []));
  return new Map(facts.flatMap(({ parameters }) => parameters.map((name) => [name, [OTHER_TENANT]])));
}

/** Whether some audience asks that the path names the account itself. */
export function namesOwners(policy: Policy): boolean {
  return audiencesOf(policy).some((each) => each.who === 'some' && each.account !== null);
}

/** A pattern with what is somebody's own in the place of some or all of the parameters that ask for it. */
function ownedBy(pattern: Pattern, own: ReadonlyMap<string, readonly string[]>): Pattern[] {
  let ways: readonly (readonly Segment[])[] = [[]];
  for (const segment of pattern.segments) {
    const values = segment.kind === 'name' ? (own.get(segment.name) ?? []) : [];
    const texts = values.map((value) => encodeURIComponent(value.toWellFormed()));
    const here: Segment[] = [segment, ...texts.map((text): Segment => ({ kind: 'literal', text }))];
    ways = ways.flatMap((way) => here.map((each) => [...way, each]));
  }
  // The first has nobody's own in it.
  return ways.slice(1).map((segments) => ({ ...pattern, segments }));
}
