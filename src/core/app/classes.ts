import type { Account, Page, Policy } from '../language/policy.js';
import type { Audience, Facts } from '../vocabulary/audience.js';
import { sampleAddress } from '../paths/coverage.js';
import type { Route, Router } from './router.js';

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
    const key = [router.find('GET', address), router.find('POST', address)]
      .map((route) => routeKey(route, page))
      .join('\n');
    const known = classes.get(key);
    if (known === undefined) classes.set(key, [page]);
    else known.push(page);
  }
  return [...classes.values()].flatMap((pages) => pages.slice(0, 1).map((page) => ({ pages, page })));
}

/** A text that is the same for routes that treat every visitor alike, of a page that is looked for there. */
export function routeKey(route: Route | null, page: Page | null): string {
  if (route === null) return '';
  const { grounds, rule, kind, task } = route;
  const loads = page?.loads.map(({ method, path }) => `${method} ${path}`) ?? [];
  const own =
    page === null
      ? ['no page']
      : [
          page.guard,
          page.cache ?? '',
          loads,
          page.answers?.join() ?? '',
          page.afterWrite.to ?? page.afterWrite.status,
        ];
  const forward = JSON.stringify(page?.forward?.at ?? '');
  // A page that another one shadows at its own sample address speaks for nobody else.
  const shadowed = route.page === page ? '' : (page?.pattern.text ?? '');
  return [
    audienceKey(grounds.audience),
    kind,
    task ?? '',
    rule?.onlyHttps === true,
    route.hasSlash,
    route.isAnswered,
    ...own,
    forward,
    shadowed,
  ].join('|');
}

const keys = new WeakMap<Audience, string>();

/** A text that is the same for audiences of the same people. */
export function audienceKey(audience: Audience): string {
  let key = keys.get(audience);
  if (key === undefined) keys.set(audience, (key = writeKey(audience)));
  return key;
}

function writeKey(audience: Audience): string {
  if (audience.who !== 'some') return audience.who;
  const { any, all, none, facts, account, secondFactor, loginWithin } = audience;
  const sorted = (names: readonly string[]) => [...new Set(names)].sort();
  const roles = [any === null ? null : sorted(any), sorted(all), sorted(none)];
  return JSON.stringify([...roles, factPairs(facts), account !== null, secondFactor, loginWithin]);
}

function factPairs(facts: Facts): readonly (readonly [string, string])[] {
  return [...facts].sort(([a], [b]) => (a < b ? -1 : 1));
}

/** Accounts with the same roles, facts and state, so that one of them speaks for all. */
export interface AccountClass {
  readonly accounts: readonly Account[];
  readonly account: Account;
}

/** Groups accounts by all that decides how they are treated, but for pages of their own. */
export function accountClasses(accounts: Iterable<Account>): AccountClass[] {
  const classes = new Map<string, Account[]>();
  for (const account of accounts) {
    const { given, roles, facts, secondFactor, state } = account;
    const key = JSON.stringify([[...roles].sort(), given.length > 1, factPairs(facts), secondFactor, state]);
    const known = classes.get(key);
    if (known === undefined) classes.set(key, [account]);
    else known.push(account);
  }
  return [...classes.values()].flatMap((members) =>
    members.slice(0, 1).map((account) => ({ accounts: members, account })),
  );
}
