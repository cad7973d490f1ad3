import { endpointsOf } from '../app/endpoints.js';
import { SOME_CLIENT } from '../http/client-address.js';
import { hostOf } from '../http/address.js';
import { METHODS, type Method } from '../http/messages.js';
import type { Policy } from '../language/policy.js';
import { isWritten, type Path, type YamlText } from '../language/text/yaml-text.js';
import { sampleAddress } from '../paths/coverage.js';
import type { Pattern } from '../paths/pattern.js';
import { stageOf, type Stage } from '../play/stage.js';

/** Something that one of two policies has and the other lacks. */
export interface Lacking {
  /** Such as `POST /ledger`, or `the login POST /sign-in`. */
  readonly what: string;
  /** Where it stands in the policy that has it. */
  readonly at: Path;
}

/** Something that both have, each otherwise. */
export interface Differing {
  readonly what: string;
  readonly inSources: string;
  readonly inPolicy: string;
  /** The place in the existing policy. */
  readonly at: Path;
}

/** A draft held against an existing policy. */
export interface AgainstPolicy {
  /** What the sources have and the policy lacks; places are those of the draft. */
  readonly notInPolicy: readonly Lacking[];
  /** What the policy has and the sources lack. */
  readonly notInSources: readonly Lacking[];
  readonly otherwise: readonly Differing[];
}

/**
 * What a drafted policy has that an existing one lacks, and the reverse: pages by their methods, the requests of login, logout and the
 * like, whether guests are let in, and how cookies are set.
 *
 * @param input the text of the draft: nothing is said against what it only takes for usual
 * @param isGuessed whether what stands at a place of the draft is only guessed, so that nothing is said against it either
 */
export function compareWithPolicy(
  draft: Policy,
  policy: Policy,
  input: YamlText,
  isGuessed: (at: Path) => boolean,
): AgainstPolicy {
  const [drafted, existing] = [stageOf(draft), stageOf(policy)];
  return {
    notInPolicy: [
      ...pagesWithout(drafted, existing),
      ...endpointsWithout(draft, policy).filter(
        ({ task }) => task !== 'refresh' || isWritten(['tokens', 'submit'], input),
      ),
    ],
    notInSources: [...pagesWithout(existing, drafted), ...endpointsWithout(policy, draft)],
    otherwise: [...guestsOtherwise(drafted, existing, isGuessed), ...cookiesOtherwise(draft, policy, input)],
  };
}

/** Requests of pages that are answered by one and not by the other. */
function pagesWithout(one: Stage, other: Stage): Lacking[] {
  return one.app.policy.pages.flatMap(({ pattern, answers, at }) => {
    const path = sampleOf(pattern);
    // What answers any method is asked for by the one that every page has.
    const methods = (answers ?? ['GET']).filter((method) => isOwnRequest(one, method, path));
    const lacking = methods.filter((method) => !isAnswered(other, method, path));
    return lacking.map((method) => ({ what: `${method} ${pattern.text}`, at }));
  });
}

function isOwnRequest(stage: Stage, method: Method, path: string): boolean {
  if (method === 'HEAD' || method === 'OPTIONS') return false;
  return (routeOf(stage, method, path)?.task ?? null) === null;
}

function isAnswered(stage: Stage, method: Method, path: string): boolean {
  const route = routeOf(stage, method, path);
  return route !== null && (route.task !== null || (route.page !== null && route.isAnswered));
}

function routeOf({ app: { router, policy } }: Stage, method: Method, path: string) {
  return router.find(method, path, hostOf(policy.origin), SOME_CLIENT);
}

/** A number fits what recordings and descriptions have there, whatever it is called. */
function sampleOf(pattern: Pattern): string {
  return sampleAddress(pattern, () => '17');
}

function endpointsWithout(one: Policy, other: Policy): (Lacking & { readonly task: string })[] {
  const others = endpointsOf(other);
  const isThere = (task: string, method: Method, pattern: Pattern) =>
    others.some(
      (each) => each.task === task && each.method === method && sampleOf(each.pattern) === sampleOf(pattern),
    );
  return endpointsOf(one).flatMap(({ task, method, pattern, at }) => {
    if (isThere(task, method, pattern)) return [];
    return [{ what: `the ${task} ${method} ${pattern.text}`, at, task }];
  });
}

/** Pages that one lets guests see or write to, and the other does not. */
function guestsOtherwise(drafted: Stage, existing: Stage, isGuessed: (at: Path) => boolean): Differing[] {
  return drafted.app.policy.pages.flatMap(({ pattern, answers, at }): Differing[] => {
    if (isGuessed(at)) return [];
    const path = sampleOf(pattern);
    return METHODS.filter((method) => (answers ?? ['GET']).includes(method)).flatMap(
      (method): Differing[] => {
        const [one, other] = [routeOf(drafted, method, path), routeOf(existing, method, path)];
        if (
          one?.page === null ||
          other === null ||
          other.page === null ||
          one === null ||
          !other.isAnswered
        ) {
          return [];
        }
        if (one.task !== null || other.task !== null) return [];
        const [mine, theirs] = [
          isForGuests(one.grounds.audience.who),
          isForGuests(other.grounds.audience.who),
        ];
        if (mine === theirs) return [];
        const words = (isOpen: boolean) => (isOpen ? 'guests are let in' : 'guests are refused');
        return [
          {
            what: `${method} ${pattern.text}`,
            inSources: words(mine),
            inPolicy: words(theirs),
            at: other.grounds.at,
          },
        ];
      },
    );
  });
}

function isForGuests(who: string): boolean {
  return who === 'everyone' || who === 'guests';
}

function cookiesOtherwise(draft: Policy, policy: Policy, input: YamlText): Differing[] {
  const pairs = [
    { key: 'session', one: draft.session.cookie, other: policy.session.cookie },
    { key: 'remember', one: draft.remember?.cookie ?? null, other: policy.remember?.cookie ?? null },
  ];
  return pairs.flatMap(({ key, one, other }): Differing[] => {
    if (!isWritten([key], input) || one === null || other === null) return [];
    const [mine, theirs] = [cookieWords(one), cookieWords(other)];
    return mine === theirs
      ? []
      : [{ what: `the ${key} cookie`, inSources: mine, inPolicy: theirs, at: [key, 'cookie'] }];
  });
}

function cookieWords({
  name,
  others,
  secure,
  httpOnly,
  sameSite,
  path,
  domain,
}: Policy['session']['cookie'] | NonNullable<Policy['remember']>['cookie']): string {
  return [
    [name, ...others].join(', '),
    secure ? 'secure' : 'not secure',
    httpOnly ? 'http-only' : 'readable by script',
    `same-site ${sameSite}`,
    ...(path === '/' ? [] : [`path ${path}`]),
    ...(domain === null ? [] : [`domain ${domain}`]),
  ].join(', ');
}
