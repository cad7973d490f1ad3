import type { Account, Page, Policy } from '../language/policy.js';
import type { Audience, Facts } from '../vocabulary/audience.js';
import { METHODS, type Method } from '../http/messages.js';
import { sampleAddress } from '../paths/coverage.js';
import type { Pattern } from '../paths/pattern.js';
import type { Identity } from './identify.js';
import { factsAsked, type FactAsked } from '../language/stated.js';
import { ownParameters, peopleKey } from '../audience/all-conditions.js';
import type { Refusals } from '../vocabulary/refusal.js';
import { pathOf } from './endpoints.js';
import type { Route, Router } from './router.js';
import { isConditional } from './rule-index.js';

/** Pages that treat every visitor alike, so that one of them speaks for all. */
export interface PageClass {
  readonly pages: readonly Page[];
  /** The one that speaks for them. */
  readonly page: Page;
}

/** Groups the pages of a policy by all that decides what a request to them comes to, in the order of the policy. */
export function pageClasses(policy: Policy, router: Router): PageClass[] {
  const classes = new Map<string, Page[]>();
  for (const page of policy.pages) {
    const address = sampleAddress(page.pattern, () => 'x');
    const key = METHODS.map((method) => routeKey(router.find(method, address), page))
      .concat(
        conditionsKey(router, address),
        barriersKey(policy, router, address),
        closedKey(policy, router, address),
      )
      .join('\n');
    const known = classes.get(key);
    if (known === undefined) classes.set(key, [page]);
    else known.push(page);
  }
  return [...classes.values()].flatMap((pages) => pages.slice(0, 1).map((page) => ({ pages, page })));
}

/**
 * An address of a page of which what its audience, and those of its parts, ask of parameters is somebody's own, and the rest is
 * anything.
 */
export function ownAddress(
  router: Router,
  pattern: Pattern,
  { account, facts }: Pick<Identity, 'account' | 'facts'>,
  method: Method = 'GET',
): string {
  const route = router.find(
    method,
    sampleAddress(pattern, () => 'x'),
  );
  const parts = route?.page?.parts.map(({ audience }) => audience.audience) ?? [];
  const audiences = route === null ? [] : [...parts, route.grounds.audience];
  const own = ownParameters(audiences, { name: account ?? '', facts });
  return sampleAddress(pattern, (segment) => {
    const [value = 'x'] = segment.kind === 'name' ? (own.get(segment.name) ?? []) : [];
    return encodeURIComponent(value.toWellFormed());
  });
}

/** The rules that decide by host, network or method: which of them comes first is no matter of the path alone. */
function conditionsKey(router: Router, address: string): string {
  const rules = router.candidates(address);
  return rules.some(({ conditions }) => isConditional(conditions))
    ? rules.map(({ number }) => number).join()
    : '';
}

/** Which barriers let an address through, and whether it has the form of a way in, which they treat otherwise. */
function barriersKey(
  { barriers, logins, signUp, secondFactor }: Policy,
  router: Router,
  address: string,
): string {
  if (barriers.length === 0) return '';
  const through = barriers.map(({ lets }) => lets.some((pattern) => router.covers(pattern, address)));
  const forms = [...logins, signUp, secondFactor].map(
    (form) => form !== null && pathOf(form.page) === address,
  );
  return [...through, ...forms].map(Number).join('');
}

/** Whether an address is closed to whoever acts for somebody. */
function closedKey({ impersonation }: Policy, router: Router, address: string): string {
  return String(impersonation?.not.some((pattern) => router.covers(pattern, address)) === true);
}

/** A text that is the same for routes that treat every visitor alike, of a page that is looked for there. */
export function routeKey(route: Route | null, page: Page | null): string {
  if (route === null) return '';
  const { grounds, rule, kind, task, login, guard, cache, refusals } = route;
  const loads = page?.loads.map(({ method, path }) => `${method} ${path}`) ?? [];
  const own =
    page === null
      ? ['no page']
      : [
          guard,
          cache ?? '',
          loads,
          page.answers?.join() ?? '',
          page.afterWrite.to ?? page.afterWrite.status,
          page.parts.length === 0 ? '' : page.at.join(),
          page.sets === null ? '' : factsKey(page.sets),
        ];
  const forward = JSON.stringify(page?.forward?.at ?? '');
  // A page that another one shadows at its own sample address speaks for nobody else.
  const shadowed = route.page === page ? '' : (page?.pattern.text ?? '');
  return [
    audienceKey(grounds.audience),
    kind,
    task ?? '',
    login?.form ?? '',
    rule?.onlyHttps === true,
    route.hasSlash,
    route.isAnswered,
    refusalsKey(refusals),
    ...own,
    forward,
    shadowed,
  ].join('|');
}

const refusalKeys = new WeakMap<Refusals, string>();

function refusalsKey(refusals: Refusals): string {
  let key = refusalKeys.get(refusals);
  if (key === undefined) refusalKeys.set(refusals, (key = JSON.stringify(refusals)));
  return key;
}

const keys = new WeakMap<Audience, string>();

/** A text that is the same for audiences of the same people. */
export function audienceKey(audience: Audience): string {
  let key = keys.get(audience);
  if (key === undefined) {
    keys.set(audience, (key = audience.who === 'some' ? peopleKey(audience) : audience.who));
  }
  return key;
}

function byName([a]: readonly [string, unknown], [b]: readonly [string, unknown]): number {
  return a < b ? -1 : 1;
}

/**
 * A text that is the same for facts that are the same, in whatever order they stand.
 *
 * @param asked what is asked of facts: where a value is only ever compared with a path, it does not matter which it is
 */
export function factsKey(facts: Facts, asked: ReadonlyMap<string, FactAsked> = NOTHING_ASKED): string {
  const told = [...facts].sort(byName).map(([name, values]) => {
    const own = asked.get(name);
    const isTenant = own?.isTenant === true && !values.some((value) => own.values.has(value));
    return [name, isTenant ? values.length : [...values].sort()];
  });
  return JSON.stringify(told);
}

/** Whether facts are the same, in whatever order they stand. */
export function sameFacts(one: Facts, other: Facts): boolean {
  if (one === other) return true;
  return one.size === other.size && factsKey(one) === factsKey(other);
}

const NOTHING_ASKED: ReadonlyMap<string, FactAsked> = new Map();

/** Accounts with the same roles, facts, state and age, so that one of them speaks for all. */
export interface AccountClass {
  readonly accounts: readonly Account[];
  readonly account: Account;
}

/** Groups accounts by all that decides how they are treated, but for pages of their own and of their tenants. */
export function accountClasses(
  policy: Policy,
  accounts: Iterable<Account> = policy.accounts.values(),
): AccountClass[] {
  const asked = factsAsked(policy);
  const classes = new Map<string, Account[]>();
  for (const account of accounts) {
    const { given, roles, facts, secondFactor, state, joined, key: isMachine } = account;
    const key = JSON.stringify([
      [...roles].sort(),
      given.length > 1,
      factsKey(facts, asked),
      secondFactor,
      state,
      joined,
      isMachine,
    ]);
    const known = classes.get(key);
    if (known === undefined) classes.set(key, [account]);
    else known.push(account);
  }
  return [...classes.values()].flatMap((members) =>
    members.slice(0, 1).map((account) => ({ accounts: members, account })),
  );
}
