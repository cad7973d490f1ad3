import { landingEntry } from '../app/landing.js';
import { owesByRole } from '../language/people-reader.js';
import type { Role, SignUp } from '../language/policy.js';
import { check } from './check.js';
import type { Facts } from './facts.js';
import { openedTo } from './opened.js';

/** Signing up gives no more than where it lands needs. */
export const signUpGivesMuch = check<{ role: string; enough: string; opens: readonly string[] }>({
  meta: {
    code: 'sign-up-gives-much',
    severity: 'warning',
    title: 'Signing up gives no more than where it lands needs.',
    why: 'Anybody can sign up. A role that opens more than another one, with which one lands as well, gives a stranger what it opens besides.',
    cwe: 'CWE-269',
    mend: 'Give new accounts the least role, and raise it by hand.',
  },
  *find(facts) {
    const { signUp, roles } = facts.policy;
    if (signUp === null) return;
    for (const [index, name] of signUp.given.entries()) {
      const role = roles.get(name);
      const lesser = role === undefined ? null : lesserThan(facts, signUp, role);
      if (lesser === null) continue;
      yield { at: [...signUp.at, 'roles', index], params: { role: name, ...lesser } };
    }
  },
  message: ({ role, enough, opens }) =>
    `whoever signs up holds ${role}, which opens ${opens.join(', ')}; with ${enough} they land as well`,
});

/** The role that opens least of those that open less than a role and let somebody land after signing up. */
function lesserThan(facts: Facts, signUp: SignUp, role: Role) {
  const opened = openedTo(facts, role.holds);
  // A role that owes a code is more to the app than one that owes none, whatever the two open.
  const owes = (held: ReadonlySet<string>) => owesByRole(facts.policy.secondFactor?.of ?? [], held);
  // A role that shuts people out is no lesser one to give them.
  const shutsOut = new Set(
    facts.audiences.flatMap(({ audience }) => (audience.who === 'some' ? audience.none : [])),
  );
  const found = [...facts.policy.roles.values()]
    .filter((other) => other !== role && !shutsOut.has(other.name) && lands(facts, signUp, other))
    .map((other) => ({ enough: other.name, held: other.holds, less: openedTo(facts, other.holds) }))
    .filter(({ held, less }) => (owes(role.holds) && !owes(held)) || isLess(less, opened))
    .sort((a, b) => a.less.size - b.less.size)[0];
  if (found === undefined) return null;
  const more = [...opened].filter((each) => !found.less.has(each));
  // Sending is told where seeing is not: most often they go together.
  const opens = more.filter(
    (each) => !more.includes(each.replace(/^POST /, '')) || !each.startsWith('POST '),
  );
  return { enough: found.enough, opens };
}

/** Whether somebody who signs up and is given a role is let in where that lands them. */
function lands(facts: Facts, { then, lands: own }: SignUp, { holds }: Role): boolean {
  const visitor = facts.newcomer(holds);
  const { policy } = facts;
  const to = then === 'login' && own !== 'landing' ? own.path : landingEntry(policy, visitor)?.to;
  return to !== undefined && facts.mayRead(to, visitor) === 'served';
}

function isLess(one: ReadonlySet<string>, other: ReadonlySet<string>): boolean {
  return one.size < other.size && [...one].every((each) => other.has(each));
}
