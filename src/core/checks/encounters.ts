import type { Identity } from '../app/identify.js';
import { isBoundToPath, ownParameters } from '../audience/all-conditions.js';
import type { Instant } from '../time/clock.js';
import type { Audience } from '../vocabulary/audience.js';

/** Somebody who may stand at a door. */
export interface Person {
  /** In words: `a guest`, `the account ines`, `the role bursar`. */
  readonly who: string;
  readonly visitor: Identity;
}

/** Somebody at an address: what its path says in the place of parameters. */
export interface Encounter<Of extends Person> {
  readonly person: Of;
  readonly parameters: ReadonlyMap<string, string>;
}

/**
 * Everybody in every way in which some audiences tell visitors apart besides what they hold: at what is their own and at what is
 * not, while each switch of the app stands either way, and with an account that is new or old.
 *
 * @param now the instant at which they are looked at
 */
export function* encounters<Of extends Person>(
  people: readonly Of[],
  audiences: readonly Audience[],
  parameters: ReadonlyMap<string, string>,
  now: Instant,
): Generator<Encounter<Of>> {
  const isBound = audiences.some(isBoundToPath);
  const conditions = audiences.flatMap((each) => (each.who === 'some' ? [each] : []));
  const flags = new Set(conditions.flatMap((each) => [...each.flags.keys()]));
  const asksAge = conditions.some(({ joinedWithin }) => joinedWithin !== null);
  for (const plain of people) {
    for (const person of [plain, ...switched(plain, flags), ...(asksAge ? [ofAge(plain, now)] : [])]) {
      yield { person, parameters };
      if (isBound && person.visitor.account !== null) {
        yield { person, parameters: withOwn(audiences, person.visitor, parameters) };
      }
    }
  }
}

function withOwn(
  audiences: readonly Audience[],
  { account, facts }: Identity,
  parameters: ReadonlyMap<string, string>,
): ReadonlyMap<string, string> {
  const own = ownParameters(audiences, { name: account ?? '', facts });
  const first = [...own].flatMap(([name, [value]]) => (value === undefined ? [] : [[name, value] as const]));
  return new Map([...parameters, ...first]);
}

/** The same person while a switch stands otherwise. */
function switched<Of extends Person>(person: Of, flags: Iterable<string>): Of[] {
  const { who, visitor } = person;
  return [...flags].map((flag) => {
    const on = new Set(visitor.flags);
    const isOn = !on.delete(flag);
    if (isOn) on.add(flag);
    return {
      ...person,
      who: `${who} while ${flag} is ${isOn ? 'on' : 'off'}`,
      visitor: { ...visitor, flags: on },
    };
  });
}

/** The same person with a new account in the place of an old one, or the reverse. */
function ofAge<Of extends Person>(person: Of, now: Instant): Of {
  const { who, visitor } = person;
  const isNew = visitor.joinedAt === null;
  return {
    ...person,
    who: `${who} ${isNew ? 'just after' : 'long after'} joining`,
    visitor: { ...visitor, joinedAt: isNew ? now : null },
  };
}
