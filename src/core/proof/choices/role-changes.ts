// Step 3 of docs/proof-method.md: what is tried.

import { flagsAtFirst } from '../../app/app.js';
import { factsKey } from '../../app/classes.js';
import { GUEST, type Identity } from '../../app/identify.js';
import { firstEntry, landingEntry } from '../../app/landing.js';
import { pathOf } from '../../app/endpoints.js';
import type { Route } from '../../app/router.js';
import { rolesHeld } from '../../language/people-reader.js';
import type { Account, LandingEntry, Policy, Role } from '../../language/policy.js';
import { lawBookOf } from '../../laws/law-book.js';
import type { Stage } from '../../play/stage.js';
import { BEGINNING } from '../../time/clock.js';
import { type Facts } from '../../vocabulary/audience.js';
import { apartFromPath } from '../../audience/all-conditions.js';
import { namesOwners } from './address-patterns.js';
import { factSets } from './fact-changes.js';
import { admitted, AS_ASKED, effectOn } from './effects.js';
import { statedRoutes, type StatedRoute } from './requests.js';

/**
 * The sets of roles that an administrator gives an account, so many that whatever a step can come to for any set of roles it comes
 * to for one of them: each request with all that it leads to, each landing, each link of the menu. What a step leaves behind does
 * not depend on roles but by what it came to, so one set stands for all by which a step comes to the same.
 *
 * Nobody's own roles bear on it: the sets are the same for all accounts of the same name and facts. Where people change facts of
 * their own the sets do for all that these may come to be. Switches stand as they do at first.
 */
export function roleChanges(
  stage: Stage,
  { name, facts }: Pick<Account, 'name' | 'facts'>,
): readonly (readonly string[])[] {
  const known = changes.get(stage) ?? new Map<string, readonly (readonly string[])[]>();
  changes.set(stage, known);
  // A name tells only where some page is for whom its address names.
  const tells = namesOwners(stage.app.policy);
  const key = JSON.stringify([tells ? name : '', factsKey(facts)]);
  let sets = known.get(key);
  if (sets === undefined) {
    const { policy } = stage.app;
    const flags = flagsAtFirst(policy);
    const all = factSets(policy, facts, false).sets;
    const steps = all.flatMap((each) => stepsOf(stage, name, { facts: each, flags }));
    known.set(key, (sets = fewest(stage, steps)));
  }
  return sets;
}

const changes = new WeakMap<Stage, Map<string, readonly (readonly string[])[]>>();

/** Sets of roles, the smallest first. */
export function bySize(sets: Iterable<readonly string[]>): (readonly string[])[] {
  return [...sets].sort((one, other) => one.length - other.length || (one.join() < other.join() ? -1 : 1));
}

/** What bears on an account besides its roles. */
export interface Standing {
  readonly facts: Facts;
  /** The switches of the app that are on. */
  readonly flags: ReadonlySet<string>;
}

/** What something comes to for whoever holds some roles. */
export type Step = (held: ReadonlySet<string>) => string;

/** What each of some requests, with all that it leads to, comes to for an account that holds some roles. */
export function chainsFor(
  stage: Stage,
  { name, facts }: Pick<Account, 'name' | 'facts'>,
  asked: readonly StatedRoute[],
): (held: ReadonlySet<string>) => string {
  return (held) => {
    const viewers = viewersWith(name, { facts, flags: AS_ASKED }, held);
    return asked.map((each) => viewers.map((viewer) => chainOf(stage, each, viewer)).join(' | ')).join('\n');
  };
}

/** Whom an account can be taken for while it holds some roles. */
function viewersWith(account: string, { facts, flags }: Standing, roles: ReadonlySet<string>): Identity[] {
  return [false, true].flatMap((secondFactor) =>
    [BEGINNING, null].map((since): Identity => ({
      ...GUEST,
      account,
      roles,
      facts,
      flags,
      secondFactor,
      since,
      joinedAt: BEGINNING,
      reason: 'served',
    })),
  );
}

/** Everything that roles bear on, for one account. */
export function stepsOf(stage: Stage, name: string, standing: Standing): Step[] {
  const { policy, router } = stage.app;
  const viewers = (roles: ReadonlySet<string>) => viewersWith(name, standing, roles);
  const each =
    (come: (viewer: Identity) => string): Step =>
    (held) =>
      viewers(held).map(come).join(' | ');
  const lists = [policy.landing, ...policy.logins.map((each) => each.landing), policy.logout?.lands ?? []];
  const links = policy.menu.flatMap(({ audience, to }) => {
    const route = router.find('GET', pathOf(to));
    return route === null ? [] : [{ audience, route }];
  });
  const picks = policy.login?.asRole === true ? [...policy.roles.values()] : [];
  const stated = statedRoutes(stage);
  const owing = policy.secondFactor?.of ?? [];
  const limited = policy.session['by-role'];
  return [
    // What a login asks of them.
    ...(owing.length === 0
      ? []
      : [(held: ReadonlySet<string>) => String(owing.some((role) => held.has(role)))]),
    // Which logins take them.
    ...policy.logins.flatMap(({ takes }) =>
      takes === null ? [] : [(held: ReadonlySet<string>) => String(takes.some((role) => held.has(role)))],
    ),
    // How long their session lasts.
    ...(limited.length === 0
      ? []
      : [(held: ReadonlySet<string>) => String(limited.findIndex(({ role }) => held.has(role)))]),
    ...stated.map((asked) => each((viewer) => chainOf(stage, asked, viewer))),
    ...lists.map((entries) => each((viewer) => landed(stage, entries, viewer))),
    ...links.map(({ audience, route }) =>
      each((viewer) => {
        const isShown = audience !== null && admitted(audience.audience, viewer, route);
        return `${isShown} ${effectOn(stage, route, 'GET', viewer)}`;
      }),
    ),
    // Whoever picked one role goes by that and what it includes; what shuts them out is asked of all that they hold.
    ...picks.flatMap(({ name: role, holds: picked }) =>
      stated.map((asked): Step => {
        const { audience } = asked.route.grounds;
        const none = audience.who === 'some' ? audience.none : [];
        const shown = viewers(picked).map((viewer) => chainOf(stage, asked, viewer));
        return (held) => {
          if (!held.has(role)) return 'not picked';
          return `${shown.join(' | ')} ${String(none.some((each) => held.has(each)))}`;
        };
      }),
    ),
  ];
}

/** Browsers follow no more redirects than that, and what a longer chain comes to is not told apart. */
const MOST_HOPS = 20;

/** What a request comes to, with all that it leads to. */
function chainOf(stage: Stage, { route, method }: StatedRoute, viewer: Identity, hops = 0): string {
  const { policy, router } = stage.app;
  const own = effectOn(stage, route, method, viewer);
  const book = lawBookOf(stage);
  const only = book
    .promisesFor(route.path)
    .map((promise) => String(promise.only?.some((role) => viewer.roles.has(role))));
  // Data is held against the pages that load it: what both come to for the same person is one thing.
  const loaders = book
    .loadersOf(method, route)
    .map(({ audience }) => admitted(apartFromPath(audience), viewer, route));
  const forward = own.startsWith('shown') ? (route.page?.forward ?? null) : null;
  const next =
    forward === null ? addressAfter(stage, route, own, viewer) : forwardedTo(policy, forward.entries, viewer);
  const loads = own.startsWith('shown') && method === 'GET' ? (route.page?.loads ?? []) : [];
  const further = [...(next === null ? [] : [next]), ...loads.map(({ path }) => path)].map((address) => {
    const to = router.find('GET', pathOf(address));
    if (to === null || hops >= MOST_HOPS) return address;
    return `${address}: ${chainOf(stage, { route: to, method: 'GET' }, viewer, hops + 1)}`;
  });
  return [own, ...only, ...loaders, ...further].join('; ');
}

/** Where a refusal leads; null where it leads nowhere else. */
function addressAfter({ app }: Stage, route: Route, effect: string, viewer: Identity): string | null {
  const { login, logins, secondFactor } = app.policy;
  const [to = '', path = null] = effect.split(' ');
  switch (to) {
    case 'landing':
      return landingEntry(app.policy, viewer, route.login)?.to ?? null;
    case 'login':
      return (logins.find(({ name }) => name === path) ?? login)?.page ?? null;
    case 'code-page':
      return secondFactor?.page ?? null;
    case 'path':
      return path;
    default:
      return null;
  }
}

function forwardedTo(
  { landing }: Policy,
  entries: readonly LandingEntry[] | null,
  viewer: Identity,
): string | null {
  const to = firstEntry(entries ?? landing, viewer)?.to ?? null;
  return to === 'stay' ? null : to;
}

/** Where somebody lands by a list, whichever page was left, and what they find there. */
function landed(stage: Stage, entries: readonly LandingEntry[], viewer: Identity): string {
  const open = entries.map((entry) => ({ ...entry, leaving: null }));
  const reached: string[] = [];
  for (const [at, entry] of open.entries()) {
    if (firstEntry([entry], viewer) === null) continue;
    const route = stage.app.router.find('GET', pathOf(entry.to));
    const found = route === null ? '' : chainOf(stage, { route, method: 'GET' }, viewer);
    reached.push(`${at} ${found}`);
    if (entries[at]?.leaving === null) break;
  }
  return reached.join('; ');
}

/** As few sets as bring about everything that each step can come to, the smallest first. */
function fewest(stage: Stage, steps: readonly Step[]): readonly (readonly string[])[] {
  const { roles } = stage.app.policy;
  const found = new Map<string, readonly string[]>([['', []]]);
  const wanted = steps.map((step) => {
    const ways = everySet(step, roles);
    for (const { given } of ways) found.set(given.join(' '), given);
    return { step, come: new Set(ways.map(({ isNone, come }) => `${isNone} ${come}`)) };
  });
  return bySize(found.values()).filter((given) => {
    const held = rolesHeld(given, roles);
    let isNew = false;
    for (const { step, come } of wanted) if (come.delete(`${held.size === 0} ${step(held)}`)) isNew = true;
    return isNew;
  });
}

/** The answers that a set of roles has to give. */
interface Answers {
  readonly held: readonly string[];
  readonly lacked: readonly string[];
}

/**
 * Everything that a step can come to, each with the smallest set of roles by which it does: it is gone through once for each way in
 * which what it asks of roles can be answered.
 */
export function everySet(
  step: Step,
  roles: Policy['roles'],
): { readonly given: readonly string[]; readonly isNone: boolean; readonly come: string }[] {
  const ways: { given: readonly string[]; isNone: boolean; come: string }[] = [];
  const open: Answers[] = [{ held: [], lacked: [] }];
  for (let answers = open.pop(); answers !== undefined; answers = open.pop()) {
    const asked = new AskedRoles(answers, roles);
    const come = step(asked);
    const { held, lacked } = answers;
    if (asked.open !== null) {
      open.push({ held: [...held, asked.open], lacked });
      open.push({ held, lacked: [...lacked, asked.open] });
      continue;
    }
    const given = held.filter((role) => !held.some((other) => other !== role && holds(roles, other, role)));
    if (given.some((role) => lacked.some((each) => holds(roles, role, each)))) continue;
    if (given.length > 0) {
      ways.push({ given, isNone: false, come });
      continue;
    }
    // Whoever holds nothing at all is told apart from whoever holds something that nobody asks for.
    ways.push({ given, isNone: true, come });
    const other = [...roles.keys()].find((role) => !lacked.some((each) => holds(roles, role, each)));
    if (other !== undefined) ways.push({ given: [other], isNone: false, come });
  }
  return ways;
}

function holds(roles: ReadonlyMap<string, Role>, role: string, other: string): boolean {
  return roles.get(role)?.holds.has(other) === true;
}

/** A set of roles of which no more is known than some answers; what else is asked first is noted, and denied. */
class AskedRoles extends Set<string> {
  /** The first role that was asked for and is not known of; null for none. */
  open: string | null = null;

  constructor(
    private readonly answers: Answers,
    private readonly roles: Policy['roles'],
  ) {
    super();
  }

  override has(role: string): boolean {
    const { held, lacked } = this.answers;
    if (held.some((each) => holds(this.roles, each, role))) return true;
    if (this.open === null && !lacked.includes(role)) this.open = role;
    return false;
  }

  override get size(): number {
    throw new Error('how many roles somebody holds is not asked');
  }

  override [Symbol.iterator](): SetIterator<string> {
    throw new Error('which roles somebody holds is not asked');
  }
}
