import { audienceKey, routeKey } from '../app/classes.js';
import { SOME_CLIENT, addressOutside, isWithin, type ClientNetwork } from '../http/client-address.js';
import { METHODS, type Method } from '../http/messages.js';
import type { Policy } from '../language/policy.js';
import { lawBookOf } from '../laws/law-book.js';
import { samplesOf } from '../paths/atoms.js';
import { parsePattern, type Pattern, type Segment } from '../paths/pattern.js';
import type { Stage } from '../walks/stage.js';

/** Addresses that treat every visitor alike, by one of them. */
export interface AddressClass {
  /** A path, or with the origin in front where it is another host's. */
  readonly address: string;
  /** The network address that it is asked for from; undefined for an ordinary one. */
  readonly connectsFrom?: string;
  readonly isApi: boolean;
  /** The same over plain http, where a rule sends that to https; null where none does. */
  readonly plain: string | null;
  /** The methods that change things and are not all answered alike, one of each that are. */
  readonly writes: readonly Method[];
  /** How many samples were found to be alike: pages, or addresses without one. */
  readonly members: number;
}

/** All addresses in classes, and whether none was left out. */
export interface Addresses {
  readonly classes: readonly AddressClass[];
  readonly isComplete: boolean;
}

/**
 * Every address there can be, listed or not, in classes: what the patterns and expressions of pages, rules and promises tell
 * apart is split, and what is treated alike after all is merged.
 *
 * @param owners the names of those who may be signed in: only of their own pages matters whose they are
 */
export function addressesOf(stage: Stage, owners: readonly string[]): Addresses {
  const { policy, router } = stage.app;
  const { paths, isComplete } = samplesOf(
    patternsOf(policy, owners),
    policy.rules.flatMap(({ expression }) => expression?.language ?? []),
  );
  const classes = new Map<string, AddressClass>();
  for (const path of paths) {
    const isConditional = router.candidates(path).some(({ conditions: { hosts, from } }) => hosts ?? from);
    for (const { host, client } of isConditional ? circumstances(policy) : [USUAL]) {
      const key = keyOf(stage, path, host, client, owners);
      const known = classes.get(key);
      classes.set(
        key,
        known === undefined ? classOf(stage, path, host, client) : { ...known, members: known.members + 1 },
      );
    }
  }
  return { classes: [...classes.values()], isComplete };
}

interface From {
  /** Another host than the origin's; null for that. */
  readonly host: string | null;
  readonly client: string;
}

const USUAL: From = { host: null, client: SOME_CLIENT };

function classOf(
  { app: { router, policy } }: Stage,
  path: string,
  host: string | null,
  client: string,
): AddressClass {
  const writes = new Map<string, Method>();
  for (const method of WRITES) {
    const route = find(router, method, path, host, client);
    const key = `${route === null ? '' : audienceKey(route.grounds.audience)} ${route?.task ?? ''}`;
    if (!writes.has(key)) writes.set(key, method);
  }
  const origin = host === null ? policy.origin : policy.origin.replace(/\/\/[^/:]+/, `//${host}`);
  const read = find(router, 'GET', path, host, client);
  return {
    address: host === null ? path : origin + path,
    ...(client === SOME_CLIENT ? {} : { connectsFrom: client }),
    isApi: read?.kind === 'api',
    plain: read?.rule?.onlyHttps === true ? origin.replace(/^https/, 'http') + path : null,
    writes: [...writes.values()],
    members: 1,
  };
}

const WRITES: readonly Method[] = ['POST', 'PUT', 'PATCH', 'DELETE'];

/** A text that is the same for addresses that treat everybody alike. */
function keyOf(
  stage: Stage,
  path: string,
  host: string | null,
  client: string,
  owners: readonly string[],
): string {
  const { router } = stage.app;
  const book = lawBookOf(stage);
  const promised = book.promisesFor(path).map(({ at }) => at.join('.'));
  const routes = METHODS.map((method) => {
    const route = find(router, method, path, host, client);
    if (route === null) return '';
    const { audience } = route.grounds;
    const owner =
      audience.who === 'some' && audience.account !== null ? route.parameters.get(audience.account) : '';
    const loaders = book.loadersOf(method, route).map(({ at }) => at.join('.'));
    const named = owner !== undefined && owners.includes(owner) ? owner : '';
    return [routeKey(route, route.page), named, ...loaders].join('|');
  });
  return [...promised, host ?? '', client, ...routes].join('\n');
}

function find(
  router: Stage['app']['router'],
  method: Method,
  path: string,
  host: string | null,
  client: string,
) {
  return host === null
    ? router.find(method, path, undefined, client)
    : router.find(method, path, host, client);
}

/** Every pattern that tells addresses apart; of pages of their owner those of every kind of owner. */
function patternsOf(policy: Policy, owners: readonly string[]): Pattern[] {
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
function ownersNamed({ pages, rules }: Policy): string[] {
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

/** One of each host and each kind of network address that rules tell apart. */
function circumstances({ rules }: Policy): From[] {
  const hosts = [...new Set(rules.flatMap(({ conditions }) => conditions.hosts ?? []))];
  const networks = rules.flatMap(({ conditions }) => conditions.from ?? []);
  const clients = [SOME_CLIENT, ...networks.flatMap((network) => insideOf(network, networks))];
  return [null, ...hosts].flatMap((host) => [...new Set(clients)].map((client) => ({ host, client })));
}

function insideOf(network: ClientNetwork, all: readonly ClientNetwork[]): string[] {
  const within = all.filter((other) => other.prefix > network.prefix && isWithin(other, network));
  const client = addressOutside(network, within);
  return client === null ? [] : [client];
}
