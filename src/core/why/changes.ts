import { admit } from '../app/admit.js';
import { factsKey } from '../app/classes.js';
import { GUEST, type Identity } from '../app/identify.js';
import { hasFacts } from '../app/landing.js';
import type { Route } from '../app/router.js';
import { FixedClock } from '../time/clock.js';
import type { LoginState } from '../grid/login-state.js';
import type { Policy } from '../language/policy.js';
import type { Seconds } from '../time/duration.js';
import type { AskedFacts, Facts } from '../vocabulary/audience.js';

/** Something that could be different about a visitor. */
export type Step =
  | { readonly change: 'log-in' | 'log-out' | 'log-in-again' | 'give-code' | 'be-active' }
  | { readonly change: 'hold' | 'lose'; readonly role: string }
  | { readonly change: 'have-facts'; readonly facts: Facts }
  | { readonly change: 'switch'; readonly flags: ReadonlyMap<string, boolean> }
  | { readonly change: 'join-lately'; readonly within: Seconds }
  | { readonly change: 'be'; readonly account: string };

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
  if (audience.who !== 'some') return;
  for (const role of new Set([...(audience.any ?? []), ...audience.all])) {
    if (identity.roles.has(role)) continue;
    const roles = new Set([...identity.roles, ...(policy.roles.get(role)?.holds ?? [role])]);
    yield { step: { change: 'hold', role }, after: { ...identity, roles } };
  }
  for (const role of audience.none) {
    if (!identity.roles.has(role)) continue;
    // Losing a role means losing those that bring it, too.
    const kept = [...identity.roles].filter((name) => policy.roles.get(name)?.holds.has(role) !== true);
    yield { step: { change: 'lose', role }, after: { ...identity, roles: new Set(kept) } };
  }
  if (audience.facts.size > 0) {
    const wanted = factsThatDo(audience.facts, identity.facts, route.parameters);
    const facts = new Map([...identity.facts, ...wanted]);
    if (wanted.size > 0) {
      yield { step: { change: 'have-facts', facts: wanted }, after: { ...identity, facts } };
    }
  }
  const owner = audience.account === null ? undefined : route.parameters.get(audience.account);
  if (owner !== undefined && owner !== identity.account) {
    yield { step: { change: 'be', account: owner }, after: { ...identity, account: owner } };
  }
  const flags = new Map([...audience.flags].filter(([flag, isOn]) => identity.flags.has(flag) !== isOn));
  if (flags.size > 0) {
    const on = new Set([...identity.flags].filter((flag) => flags.get(flag) !== false));
    for (const [flag, isOn] of flags) if (isOn) on.add(flag);
    yield { step: { change: 'switch', flags }, after: { ...identity, flags: on } };
  }
  if (audience.joinedWithin !== null && identity.joinedAt !== clock.now) {
    const step = { change: 'join-lately', within: audience.joinedWithin } as const;
    yield { step, after: { ...identity, joinedAt: clock.now } };
  }
  if (audience.secondFactor && !identity.secondFactor) {
    yield { step: { change: 'give-code' }, after: { ...identity, secondFactor: true } };
  }
  if (audience.loginWithin !== null && identity.since !== clock.now) {
    yield { step: { change: 'log-in-again' }, after: { ...identity, since: clock.now } };
  }
}

/** What somebody lacks of some facts that are asked for, each with one value that would do: a parameter's goes first. */
function factsThatDo(asked: AskedFacts, held: Facts, parameters: ReadonlyMap<string, string>): Facts {
  const lacking = [...asked].filter((each) => !hasFacts(held, new Map([each]), parameters));
  return new Map(
    lacking.map(([name, { values, parameters: named }]) => {
      const inPath = named.flatMap((parameter) => parameters.get(parameter) ?? []);
      return [name, [...inPath, ...values].slice(0, 1)];
    }),
  );
}
