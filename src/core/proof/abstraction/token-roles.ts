// Step 4 of docs/proof-method.md: taking situations apart.

import type { AccessToken, AppState } from '../../app/app.js';
import type { HeldTokens } from '../../browser/state.js';
import { rolesHeld } from '../../language/people-reader.js';
import type { Account } from '../../language/policy.js';
import { isGuardedByScript } from '../../language/stated.js';
import type { Stage } from '../../play/stage.js';
import { chainsFor, roleChanges } from '../choices/role-changes.js';
import { statedRoutes, type StatedRoute } from '../choices/requests.js';
import { isTokenOver } from '../situations/over.js';
import type { Situation } from '../situations/situation.js';
import { REFUSAL_KEYS } from '../../vocabulary/refusal.js';
import type { Limits } from '../time/limits.js';

/**
 * The roles that access tokens carry, as far as they tell: where tokens are asked at some addresses alone, sets of roles by which
 * all those come to the same are one.
 */
export class TokenRoles {
  /** The routes at which a token may be asked; null where script or pages ask it too, and every role tells. */
  private readonly asked: readonly StatedRoute[] | null;
  /** By account, by the roles that a token was given. */
  private readonly known = new Map<string, Map<string, ReadonlySet<string>>>();

  constructor(private readonly stage: Stage) {
    this.asked = routesAsked(stage);
  }

  /**
   * The access tokens of an app, each with roles that tell as much as its own; of one that is over, with those that its account
   * holds now, or none that anybody has where it holds nothing any more. Nothing asks for its own, but what is still asked of one
   * that counts is not to be mixed up with it.
   */
  of({ state, zone }: Situation, limits: Limits): AppState['accessTokens'] {
    const { accessTokens, families, accounts } = state;
    if (this.asked === null || accessTokens.length === 0) return accessTokens;
    return accessTokens.map((token): AccessToken => {
      const name = families[token.family]?.account;
      if (name === undefined) return token;
      const account = accounts.get(name);
      const now = account?.state === 'active' ? account.roles : NEVER_HELD;
      const roles = this.tellingOf(name, isTokenOver(token, zone, limits) ? now : token.roles);
      return roles === token.roles ? token : { ...token, roles };
    });
  }

  /** What a browser holds, without the roles that none of its script reads. */
  held(tokens: HeldTokens | null): HeldTokens | null {
    if (tokens === null || this.asked === null || tokens.claims.roles === NONE) return tokens;
    return { ...tokens, claims: { ...tokens.claims, roles: NONE } };
  }

  private tellingOf(name: string, roles: ReadonlySet<string>): ReadonlySet<string> {
    if (roles === NEVER_HELD) return roles;
    let known = this.known.get(name);
    if (known === undefined) this.known.set(name, (known = new Map<string, ReadonlySet<string>>()));
    const key = [...roles].join();
    let telling = known.get(key);
    if (telling === undefined) known.set(key, (telling = this.firstLike(name, roles)));
    return telling;
  }

  /** The first of the sets that an account may come to hold which tells the same. */
  private firstLike(name: string, roles: ReadonlySet<string>): ReadonlySet<string> {
    const { policy } = this.stage.app;
    const account = policy.accounts.get(name);
    const who = { name, facts: account?.facts ?? NO_FACTS };
    const come = chainsFor(this.stage, who, this.asked ?? []);
    const sets = roleChanges(this.stage, who).map((given) => rolesHeld(given, policy.roles));
    const wanted = come(roles);
    return (
      [...sets, ...(account === undefined ? [] : [account.roles])].find((each) => come(each) === wanted) ??
      roles
    );
  }
}

const NONE: ReadonlySet<string> = new Set();
/** No role has an empty name. */
const NEVER_HELD: ReadonlySet<string> = new Set(['']);
const NO_FACTS: Account['facts'] = new Map();
const all = new WeakMap<Stage, TokenRoles>();

/** The same for all who look at a policy. */
export function tokenRolesOf(stage: Stage): TokenRoles {
  let known = all.get(stage);
  if (known === undefined) all.set(stage, (known = new TokenRoles(stage)));
  return known;
}

/** Every address at which something is called with a token; null where script reads roles off it (`knownToScript`). */
function routesAsked(stage: Stage): readonly StatedRoute[] | null {
  const { client, app } = stage;
  const { policy, router } = app;
  const { login, tokens, pages } = policy;
  if (tokens === null || tokens.kept === 'cookie' || login?.by !== 'both') return null;
  const loads = pages.flatMap((page) => page.loads);
  const all = [
    client.refusals,
    ...[...pages, ...policy.rules].flatMap(({ refusals }) => refusals?.page ?? []),
  ];
  const lands = all.some((refusals) =>
    REFUSAL_KEYS.some((key) => key !== 'guests-only' && refusals[key]?.to === 'landing'),
  );
  const isRead = isGuardedByScript(policy) || client.logout?.byScript === true || (loads.length > 0 && lands);
  if (isRead) return null;
  const loaded = loads.flatMap(({ method, path }): StatedRoute[] => {
    const route = router.find(method, path);
    return route === null ? [] : [{ route, method }];
  });
  return [...statedRoutes(stage).filter(({ route }) => route.kind === 'api'), ...loaded];
}
