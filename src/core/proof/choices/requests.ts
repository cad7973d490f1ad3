// Step 3 of docs/proof-method.md: what is tried.

import { barriersAt, effectKey, openedKey, shownTo, type Viewers } from './effects.js';
import { closedWhileActing } from '../../app/acting.js';
import { accountClasses, audienceKey, routeKey } from '../../app/classes.js';
import { GUEST } from '../../app/identify.js';
import { pathOf, sentPath } from '../../app/endpoints.js';
import type { Route, Router } from '../../app/router.js';
import { SOME_CLIENT, addressOutside, isWithin, type ClientNetwork } from '../../http/client-address.js';
import type { Method } from '../../http/messages.js';
import type { Policy } from '../../language/policy.js';
import { flagsAsked } from '../../language/stated.js';
import { ownParameters } from '../../audience/all-conditions.js';
import { lawBookOf } from '../../laws/law-book.js';
import { samplesOf, type Samples } from '../../paths/atoms.js';
import { samplesOfSpellings, tellsSpellings } from '../../paths/spellings.js';
import { variantsOf } from '../../paths/variants.js';
import type { Stage } from '../../play/stage.js';
import { patternsOf, type Owner } from './address-patterns.js';
import { factSets, MOST_FLAGS } from './fact-changes.js';
import { NEWCOMER } from './cast.js';
import { returnsAt } from './returns.js';

/** Requests that are answered alike to every visitor, by one of them. */
export interface RequestClass {
  readonly method: Method;
  /** A path, or with the origin in front where it is another host's. */
  readonly address: string;
  /** The network address that it comes from; undefined for an ordinary one. */
  readonly connectsFrom?: string;
  readonly isApi: boolean;
  /** Whether the app does something of its own there, such as a login or a logout. */
  readonly isTask: boolean;
  /** To which of the visitors it shows what guests may not see; empty for none of them. */
  readonly opensTo: string;
  /** The same address over plain http, where a rule sends that to https; null where none does. */
  readonly plain: string | null;
}

/** All requests in classes, how many kinds of addresses there are, and whether none was left out. */
export interface Requests {
  readonly classes: readonly RequestClass[];
  readonly addresses: number;
  readonly isComplete: boolean;
}

/**
 * Every request there can be, to addresses listed or not, in classes: what the patterns and expressions of pages, rules and
 * promises tell apart is split, and what is answered alike after all is merged.
 *
 * @param owners those who may be signed in: only of their own pages matters whose they are
 * @param viewers everybody who can be taken for a visitor: what comes to the same for each of them is merged; null where all that
 *   the policy tells apart is to stay apart
 */
export function requestsOf(stage: Stage, owners: readonly Owner[], viewers: Viewers | null): Requests {
  const { classes, addresses, isComplete } = classesOf({ stage, owners, viewers });
  // Pages first: of walks that are as short people read the one that shows them.
  const pagesFirst = [...classes.values()].sort((a, b) => Number(a.isApi) - Number(b.isApi));
  return { classes: pagesFirst, addresses, isComplete };
}

function classesOf(
  alike: Alike,
): Omit<Requests, 'classes'> & { readonly classes: ReadonlyMap<string, RequestClass> } {
  const { all, addresses, isComplete } = statedOf(alike.stage);
  const classes = new Map<string, RequestClass>();
  const weights = new Map<string, number>();
  for (const { method, path, from } of all) {
    const key = keyOf(alike, method, path, from);
    // What is shown to most speaks for what is refused in its place.
    const shown = shownAt(alike, method, path, from);
    if ((weights.get(key) ?? -1) >= shown) continue;
    weights.set(key, shown);
    classes.set(key, classOf(alike, method, path, from));
  }
  return { classes, addresses, isComplete };
}

/** One request of each class of those of which the policy states the same, whoever is the owner of a page. */
interface Stated {
  readonly all: readonly { readonly method: Method; readonly path: string; readonly from: From }[];
  readonly addresses: number;
  readonly isComplete: boolean;
}

/** A request by what the router finds for it. */
export interface StatedRoute {
  readonly route: Route;
  readonly method: Method;
}

/** What the router finds for every request between which the policy tells. */
export function statedRoutes(stage: Stage): StatedRoute[] {
  return statedOf(stage).all.flatMap(({ method, path, from }) => {
    const route = find(stage.app.router, method, path, from);
    return route === null ? [] : [{ route, method }];
  });
}

const stated = new WeakMap<Stage, Stated>();

/** Worked out once: a policy may have thousands of pages, and each kind of account merges what is left in its own way. */
function statedOf(stage: Stage): Stated {
  let known = stated.get(stage);
  if (known === undefined) stated.set(stage, (known = stateAll(stage)));
  return known;
}

function stateAll(stage: Stage): Stated {
  const { policy, router } = stage.app;
  const owners: Owner[] = [
    ...accountClasses(policy).map(({ account }) => account),
    ...(policy.signUp === null ? [] : [{ name: NEWCOMER, facts: GUEST.facts }]),
  ];
  const patterns = patternsOf(policy, owners);
  const expressions = policy.rules.flatMap(({ expression }) => expression?.language ?? []);
  const plain = samplesOf(patterns, expressions);
  // Where expressions see spellings that patterns do not tell apart, those are split too.
  const others =
    expressions.length > 0 && tellsSpellings(policy.routing)
      ? samplesOfSpellings(patterns, expressions, policy.routing)
      : NO_SAMPLES;
  const paths = [...plain.paths, ...others.paths];
  const isComplete = plain.isComplete && others.isComplete && owners.every(isFollowed(policy));
  const all = new Map<string, Stated['all'][number]>();
  let addresses = 0;
  const isMixed = loadsByOthers(policy);
  const spelled = paths.flatMap((path) => [path, ...variantsOf(path, policy.routing)]);
  for (const path of spelled) {
    const isConditional = router.candidates(path).some(({ conditions: { hosts, from } }) => hosts ?? from);
    for (const from of isConditional || policy.hosts.length > 0 ? circumstances(policy) : [USUAL]) {
      addresses += 1;
      for (const method of isMixed || tellsMethods(stage, path, from) ? TRIED : ONE_OF_EACH) {
        const key = keyOf({ stage, owners, viewers: null }, method, path, from);
        if (!all.has(key)) all.set(key, { method, path, from });
      }
    }
  }
  return { all: [...all.values()], addresses, isComplete };
}

/** Whether all facts that somebody may come to have are followed, and all ways in which switches can stand. */
function isFollowed(policy: Policy) {
  const isEvery = flagsAsked(policy).length <= MOST_FLAGS;
  return ({ facts }: Owner) => isEvery && factSets(policy, facts, true).isComplete;
}

/** Whether anything at an address tells methods that change things from each other. */
function tellsMethods(stage: Stage, path: string, from: From): boolean {
  const { router } = stage.app;
  const route = find(router, 'GET', path, from);
  if (route === null) return false;
  const { page, taskMethods } = route;
  return (
    taskMethods.length > 0 ||
    (page !== null && (page.answers !== null || page.audiences.methods.size > 0)) ||
    router.candidates(path).some(({ conditions }) => conditions.methods !== null)
  );
}

/** Whether a page loads data by another method than those that are tried of all. */
function loadsByOthers({ pages }: Policy): boolean {
  return pages.some(({ loads }) => loads.some(({ method }) => !ONE_OF_EACH.includes(method)));
}

const NO_SAMPLES: Samples = { paths: [], isComplete: true };

/** The keys of all classes of requests: in which ways they are answered to some visitors. */
export function requestKeysOf(stage: Stage, owners: readonly Owner[], viewers: Viewers): Iterable<string> {
  return classesOf({ stage, owners, viewers }).classes.keys();
}

/** What a visit to an address comes to for some visitors. */
export function effectAt(stage: Stage, address: string, viewers: Viewers): string {
  const route = stage.app.router.find('GET', sentPath(address));
  return route === null ? 'nowhere' : effectKey(stage, route, 'GET', viewers).join('\n');
}

/** A method that reads and one that changes things. */
const ONE_OF_EACH: readonly Method[] = ['GET', 'POST'];
/** The others only read, and are answered as GET is (RFC 9110 §9.3.2, §9.3.7). */
const TRIED: readonly Method[] = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'];

interface From {
  /** Another host than the origin's; null for that. */
  readonly host: string | null;
  readonly client: string;
}

const USUAL: From = { host: null, client: SOME_CLIENT };

/** What tells requests apart. */
interface Alike {
  readonly stage: Stage;
  readonly owners: readonly Owner[];
  readonly viewers: Viewers | null;
}

function classOf({ stage, viewers }: Alike, method: Method, path: string, from: From): RequestClass {
  const { router, policy } = stage.app;
  const { host, client } = from;
  const origin = host === null ? policy.origin : policy.origin.replace(/\/\/[^/:]+/, `//${host}`);
  const route = find(router, method, path, from);
  return {
    method,
    address: host === null ? path : origin + path,
    ...(client === SOME_CLIENT ? {} : { connectsFrom: client }),
    isApi: route?.kind === 'api',
    isTask: (route?.task ?? null) !== null,
    opensTo: route === null || viewers === null ? '' : openedKey(stage, route, method, viewers),
    plain: route?.rule?.onlyHttps === true ? origin.replace(/^https/, 'http') + path : null,
  };
}

/** A text that is the same for requests that are answered alike to everybody who can make them. */
function keyOf({ stage, owners, viewers }: Alike, method: Method, path: string, from: From): string {
  const { router, policy } = stage.app;
  const route = find(router, method, path, from);
  if (route === null) return `${method} nowhere`;
  // A page with a form is itself alone, for what can be filled in there, where that is followed.
  const { logins, signUp, secondFactor, password, linkLogin } = policy;
  const forms = [...logins, signUp, secondFactor, password?.change, password?.reset, linkLogin];
  const form = viewers === null && forms.some((each) => each && pathOf(each.page) === route.path);
  // All methods that change things are alike where the app does nothing of its own; those that read too, where only what comes of
  // them is told apart.
  const plain = method === 'GET' ? 'reads' : 'writes';
  const how = route.task !== null ? method : viewers === null ? plain : 'asks';
  const own = [how, form && method === 'GET' ? route.path : '', from.host ?? ''];
  const key =
    viewers === null ? statedKey(stage, route, method, owners) : effectKey(stage, route, method, viewers);
  return [...own, ...key].join('\n');
}

function shownAt({ stage, viewers }: Alike, method: Method, path: string, from: From): number {
  const route = viewers === null ? null : find(stage.app.router, method, path, from);
  return route === null || viewers === null ? 0 : shownTo(stage, route, method, viewers);
}

/** Whoever acts for somebody. */
const ACTING = { actedBy: NEWCOMER };

/** All that the policy states of a request. */
function statedKey(stage: Stage, route: Route, method: Method, owners: readonly Owner[]): string[] {
  const book = lawBookOf(stage);
  const { page, rule, taskMethods } = route;
  const audiences = [route.grounds.audience, ...(page?.parts ?? []).map(({ audience }) => audience.audience)];
  const named = owners.flatMap((owner) =>
    [...ownParameters(audiences, owner)].map(([name, own]) => {
      const value = route.parameters.get(name) ?? '';
      return own.includes(value) ? value : '';
    }),
  );
  const loaders = book.loadersOf(method, route).map(({ audience }) => audienceKey(audience));
  const promised = book.promisesFor(route.path).map(({ at }) => at.join('.'));
  // Where there is neither a page nor a rule nobody is let in, or asked to log in.
  const isNothing = page === null && rule === null;
  return [
    named.join(),
    barriersAt(stage, route),
    String(closedWhileActing(stage.app.policy.impersonation, stage.app.router, route, ACTING) >= 0),
    routeKey(route, page),
    taskMethods.join(),
    `${isNothing}`,
    ...(method === 'GET' ? returnsAt(stage.app.policy, route) : []),
    ...loaders,
    ...promised,
  ];
}

function find(router: Router, method: Method, path: string, { host, client }: From): Route | null {
  return host === null
    ? router.find(method, path, undefined, client)
    : router.find(method, path, host, client);
}

/** One of each host and each kind of network address that rules tell apart. */
function circumstances(policy: Policy): From[] {
  const { rules } = policy;
  const named = rules.flatMap(({ conditions }) => conditions.hosts ?? []);
  const hosts = [...new Set([...policy.hosts, ...named])];
  const networks = rules.flatMap(({ conditions }) => conditions.from ?? []);
  const clients = [SOME_CLIENT, ...networks.flatMap((network) => insideOf(network, networks))];
  return [null, ...hosts].flatMap((host) => [...new Set(clients)].map((client) => ({ host, client })));
}

function insideOf(network: ClientNetwork, all: readonly ClientNetwork[]): string[] {
  const within = all.filter((other) => other.prefix > network.prefix && isWithin(other, network));
  const client = addressOutside(network, within);
  return client === null ? [] : [client];
}
