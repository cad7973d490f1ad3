import { closedWhileActing } from '../app/acting.js';
import type { Identity } from '../app/identify.js';
import type { Method } from '../http/messages.js';
import { owesByRole } from '../language/people-reader.js';
import type { Impersonation, Policy } from '../language/policy.js';
import { sampleAddress } from '../paths/coverage.js';
import { apartFromPath } from '../audience/all-conditions.js';
import { actedFor } from './acted-for.js';
import { check } from './check.js';
import type { Facts } from './facts.js';

interface Params {
  readonly actor: string;
  readonly who: string;
  readonly request: string;
}

/** Nobody acts for somebody who may do more than they. */
export const actsForMore = check<Params>({
  meta: {
    code: 'acts-for-more',
    severity: 'warning',
    title: 'Nobody acts for somebody who may do more than they.',
    why: 'Acting for somebody is a way to their rights: whoever may act for an account that stands above theirs has those too.',
    cwe: 'CWE-269',
    mend: 'Take the role out of impersonation.of, let those who act include it, or name what is more under impersonation.not.',
  },
  *find(facts) {
    const { impersonation, roles } = facts.policy;
    if (impersonation === null) return;
    const people = actedFor(facts);
    const told = new Set<string>();
    for (const by of impersonation.by) {
      const held = heldBy(roles, by);
      const helped = helpedRoles(facts.policy, impersonation, held);
      for (const { who, visitor } of people) {
        const key = `${by} ${[...visitor.roles].sort().join(' ')}`;
        if (told.has(key)) continue;
        const found = moreOf(facts, visitor, held, helped);
        if (found === undefined) continue;
        told.add(key);
        yield {
          at: impersonation.at,
          params: { actor: by, who, request: found.request },
          related: [{ at: found.at, message: 'this is whom it is for' }],
        };
      }
    }
  },
  message: ({ actor, who, request }) =>
    `the role ${actor} may act for ${who}, who may do more: ${request} is closed to ${actor}`,
});

/**
 * The roles of those whom somebody helps by acting for them: that their pages are closed to who helps is the reason to act. Left
 * out are those of a role that stands above: it includes the one who acts, or owes a code that they do not owe; and where those
 * who act stand above some for whom they may, a role that they do not stand above.
 */
function helpedRoles(
  { roles, secondFactor, signUp }: Policy,
  { of, by }: Impersonation,
  actor: ReadonlySet<string>,
): ReadonlySet<string> {
  const owing = secondFactor?.of ?? [];
  const standsAboveSome = of.some((role) => actor.has(role));
  const helped = of.filter((role) => {
    const held = heldBy(roles, role);
    const isAbove =
      by.some((each) => held.has(each)) || (owesByRole(owing, held) && !owesByRole(owing, actor));
    return !isAbove && !standsAboveSome;
  });
  return new Set([...(signUp?.roles ?? []), ...helped.flatMap((role) => [...heldBy(roles, role)])]);
}

function heldBy(roles: Policy['roles'], name: string): ReadonlySet<string> {
  return roles.get(name)?.holds ?? new Set([name]);
}

/**
 * The first request of a page that is open to somebody by their roles, and not to whoever acts for them by theirs. What opens to
 * those whom acting is to help, or is somebody's own by its path, is no more.
 */
function moreOf(facts: Facts, target: Identity, held: ReadonlySet<string>, helped: ReadonlySet<string>) {
  const { pages, impersonation } = facts.policy;
  const { router } = facts.stage.app;
  const actor = { ...target, roles: held };
  const both = { ...target, roles: new Set([...held, ...target.roles]) };
  const anybody = { ...target, roles: helped };
  for (const { pattern } of pages) {
    for (const method of TRIED) {
      const route = router.find(
        method,
        sampleAddress(pattern, () => 'x'),
      );
      if (route?.isAnswered !== true || route.page === null || route.grounds.audience.who !== 'some') {
        continue;
      }
      if (closedWhileActing(impersonation, router, route, { actedBy: '' }) >= 0) continue;
      const audience = apartFromPath(route.grounds.audience);
      const isMore =
        facts.admits(audience, target) &&
        !facts.admits(audience, actor) &&
        facts.admits(audience, both) &&
        !facts.admits(audience, anybody);
      if (isMore) return { request: `${method} ${pattern.text}`, at: route.grounds.at };
    }
  }
  return undefined;
}

const TRIED: readonly Method[] = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'];
