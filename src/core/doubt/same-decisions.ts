import { endpointsOf } from '../app/endpoints.js';
import { endsOf, SOME_CLIENT } from '../http/client-address.js';
import { hostOf } from '../http/address.js';
import { isSafe, METHODS, type Method } from '../http/messages.js';
import type { Page, Policy } from '../language/policy.js';
import type { Pattern, Segment } from '../paths/pattern.js';
import type { Audience } from '../vocabulary/audience.js';
import type { Stage } from '../play/stage.js';

/** More classes of addresses than these are not looked at one by one. */
const MOST_CLASSES = 4_000;

/** A request that two policies decide otherwise. */
export interface DecidedOtherwise {
  readonly method: Method;
  readonly path: string;
  readonly host: string;
  readonly client: string;
}

/**
 * The requests that two policies decide otherwise, one for each class and way to ask; none where they decide every request
 * alike: by whatever rule, a page is for the same people, and they are refused alike. Addresses that fall under the same
 * patterns of both are alike to both, so that one of each such class is asked for, by every method, at every host and from
 * every network that a rule names. null where that cannot be told so.
 */
export function decidedOtherwise(one: Stage, two: Stage): readonly DecidedOtherwise[] | null {
  const policies = [one.app.policy, two.app.policy];
  if (policies.some(({ rules }) => rules.some(({ expression }) => expression !== null))) return null;
  const classes = addressClasses(policies.flatMap((policy) => patternsOf(one, policy)));
  if (classes === null) return null;
  const hosts = new Set(
    policies.flatMap(({ origin, hosts: more, rules }) => [
      hostOf(origin),
      ...more,
      ...rules.flatMap(({ conditions }) => conditions.hosts ?? []),
    ]),
  );
  const networks = policies.flatMap(({ rules }) => rules.flatMap(({ conditions }) => conditions.from ?? []));
  const clients = new Set([SOME_CLIENT, ...networks.flatMap((network) => [...endsOf(network)])]);
  const found: DecidedOtherwise[] = [];
  for (const path of classes) {
    for (const host of hosts) {
      for (const client of clients) {
        for (const method of METHODS) {
          const isAlike =
            decisionOf(one, method, path, host, client) === decisionOf(two, method, path, host, client);
          if (!isAlike) found.push({ method, path, host, client });
        }
      }
    }
  }
  return found;
}

type Asked = Parameters<Stage['app']['router']['find']>;

function decisionOf(
  { app: { router, policy } }: Stage,
  method: Asked[0],
  path: string,
  host: string,
  client: string,
): string {
  const route = router.find(method, path, host, client);
  const covered = [...policy.barriers.map(({ lets }) => lets), policy.impersonation?.not ?? []].map(
    (patterns) => patterns.some((pattern) => router.covers(pattern, path)),
  );
  if (route === null) return JSON.stringify(covered);
  const {
    page,
    isAnswered,
    rule,
    kind,
    guard,
    cache,
    refusals,
    parameters,
    grounds,
    task,
    login,
    taskMethods,
    hasSlash,
  } = route;
  return JSON.stringify(
    [
      page?.pattern.text,
      isAnswered,
      rule !== null,
      rule?.onlyHttps === true,
      kind,
      guard,
      cache,
      refusals,
      [...parameters],
      // What is not there is there for nobody, whoever it would be for.
      page === null && rule === null && taskMethods.length === 0 ? null : grounds.audience,
      task,
      login?.form,
      taskMethods,
      hasSlash,
      covered,
      page === null ? null : ownWrites(page),
    ],
    (_, value: unknown) => (value instanceof Map ? [...value] : value),
  );
}

/** What a page says itself of who may write to it, by which guests are given a session with a form. */
function ownWrites({ audiences: { read, write, methods } }: Page): Audience[] {
  const writes = [...methods].flatMap(([method, stated]) => (isSafe(method) ? [] : [stated.audience]));
  return write === read || write === null ? writes : [write.audience, ...writes];
}

function patternsOf({ app }: Stage, policy: Policy): Pattern[] {
  const { pages, rules, barriers, impersonation } = policy;
  const all = [
    ...pages.map(({ pattern }) => pattern),
    ...rules.flatMap(({ patterns }) => patterns),
    ...barriers.flatMap(({ lets }) => lets),
    ...(impersonation?.not ?? []),
    ...endpointsOf(policy).map(({ pattern }) => pattern),
  ];
  return all.map((pattern) => app.router.folded(pattern));
}

/**
 * An address for every set of patterns that some address falls under. Segment by segment, what matters is which patterns still
 * fit: a segment is one of the texts that they have there, or any other.
 */
export function addressClasses(patterns: readonly Pattern[]): string[] | null {
  const found: string[] = [];
  const follow = (alive: readonly Pattern[], path: readonly string[]): boolean => {
    if (found.length >= MOST_CLASSES) return false;
    found.push(`/${path.join('/')}`);
    const at = path.length;
    const longer = alive.filter(({ segments }) => segments.length > at);
    // Beyond all of them a path that goes on is one more class: only what ends in ** still fits.
    const literals = new Set(longer.flatMap(({ segments }) => literalOf(segments[at])));
    const fits = (text: string | null) =>
      alive.filter(({ segments, tail }) => {
        const segment = segments[at];
        if (segment === undefined) return tail;
        return segment.kind !== 'literal' || segment.text === text;
      });
    if (longer.length === 0) {
      if (alive.length > 0) found.push(`/${[...path, fresh(at)].join('/')}`);
      return true;
    }
    return (
      [...literals].every((text) => follow(fits(text), [...path, text])) &&
      follow(fits(null), [...path, fresh(at)])
    );
  };
  return follow(patterns, []) ? found : null;
}

/** A segment that no pattern has, another at each place, so that parameters are told apart. */
function fresh(at: number): string {
  return `x-any-${at}`;
}

function literalOf(segment: Segment | undefined): string[] {
  return segment?.kind === 'literal' ? [segment.text] : [];
}
