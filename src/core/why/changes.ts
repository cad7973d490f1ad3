import { admit } from '../app/admit.js';
import { factsKey } from '../app/classes.js';
import { GUEST, type Identity } from '../app/identify.js';
import type { Route } from '../app/router.js';
import { FixedClock } from '../time/clock.js';
import type { LoginState } from '../grid/login-state.js';
import type { Policy } from '../language/policy.js';
import { conditionsOf } from '../audience/all-conditions.js';
import type { ChangeOfVisitor, RolesHeld } from '../audience/condition.js';

/** Something that could be different about a visitor. */
export type Step = { readonly change: 'log-in' | 'log-out' | 'be-active' } | ChangeOfVisitor;

/** Steps that together would admit a visitor. */
export type Change = readonly Step[];

/** More steps than this are no small change. */
const MOST_STEPS = 4;

/**
 * The smallest sets of steps of which each would admit a visitor to an address. They are tried by size, so that none
 * with a step to spare is among them.
 */
export function changesThatAdmit(policy: Policy, route: Route, visitor: Identity, who: LoginState): Change[] {
  const clock = new FixedClock(who.time);
  const admits = (identity: Identity) =>
    admit(route.grounds.audience, identity, route.parameters, clock) === 'served';
  let tried: { readonly identity: Identity; readonly steps: Change }[] = [{ identity: visitor, steps: [] }];
  for (let size = 1; size <= MOST_STEPS; size++) {
    const next: { identity: Identity; steps: Change }[] = [];
    const seen = new Set<string>();
    for (const { identity, steps } of tried) {
      for (const { step, after } of stepsFrom(policy, route, identity, who, clock)) {
        const key = keyOf(after);
        if (seen.has(key)) continue;
        seen.add(key);
        next.push({ identity: after, steps: [...steps, step] });
      }
    }
    const found = next.filter(({ identity }) => admits(identity));
    if (found.length > 0) return found.map(({ steps }) => steps);
    tried = next;
  }
  return [];
}

function keyOf({ account, roles, facts, secondFactor, since, flags, joinedAt }: Identity): string {
  const known = [account, [...roles].sort(), factsKey(facts), [...flags].sort()];
  return JSON.stringify([...known, secondFactor, since, joinedAt]);
}

/** The single steps that bear on the audience of an address. */
function* stepsFrom(
  policy: Policy,
  route: Route,
  identity: Identity,
  who: LoginState,
  clock: FixedClock,
): Generator<{ readonly step: Step; readonly after: Identity }> {
  const { audience } = route.grounds;
  if (identity.account === null) {
    const account = who.account === null ? null : who.state.accounts.get(who.account);
    const known = account ?? null;
    const after: Identity = {
      ...GUEST,
      account: known?.name ?? '',
      roles: known?.roles ?? GUEST.roles,
      facts: known?.facts ?? GUEST.facts,
      by: 'session',
      since: clock.now,
      joinedAt: who.state.joined.get(known?.name ?? '') ?? null,
      flags: who.state.flags,
      reason: 'served',
    };
    if (identity.reason === 'code-needed') {
      yield { step: { change: 'give-code' }, after: { ...after, secondFactor: true } };
      return;
    }
    const active = known === null || known.state === 'active';
    yield { step: { change: active ? 'log-in' : 'be-active' }, after };
    return;
  }
  if (audience.who === 'guests') {
    yield { step: { change: 'log-out' }, after: GUEST };
    return;
  }
  const where = { parameters: route.parameters, clock, holds: holdsOf(policy) };
  for (const { condition, value } of conditionsOf(audience)) {
    for (const { step, after } of condition.changes(value, identity, where)) {
      yield { step, after: { ...identity, ...after } };
    }
  }
}

function holdsOf({ roles }: Policy): RolesHeld {
  return new Map([...roles].map(([name, { holds }]) => [name, holds]));
}
