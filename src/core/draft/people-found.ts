import { isSafe } from '../http/messages.js';
import type { Seen, SeenPage } from './seen-pages.js';

/** Who was given something, and who was not. */
export interface Stand {
  readonly guest: 'in' | 'out' | null;
  /** Whether guests were let in at one time and refused at another. */
  readonly isGuestUnsure: boolean;
  readonly admitted: readonly string[];
  readonly refused: readonly string[];
}

/** Roles, made up so that each of them tells apart people who were treated otherwise. */
export class FoundRoles {
  /** The names of roles by their holders. */
  private readonly roles = new Map<string, { readonly name: string; readonly holders: readonly string[] }>();

  constructor(private readonly people: readonly string[]) {}

  /** The role that just these people hold. */
  of(holders: readonly string[], pattern: string): string {
    const key = this.keyOf(holders);
    const known = this.roles.get(key);
    if (known !== undefined) return known.name;
    const name = this.nameFor(pattern);
    this.roles.set(key, { name, holders });
    return name;
  }

  /** All roles, those that fewest hold first. */
  get all(): readonly { readonly name: string; readonly holders: readonly string[] }[] {
    return [...this.roles.values()].sort((one, other) => one.holders.length - other.holders.length);
  }

  private keyOf(holders: readonly string[]): string {
    return this.people.filter((person) => holders.includes(person)).join('\n');
  }

  /** Called after the page that asks for it: what the app calls it nobody has told. */
  private nameFor(pattern: string): string {
    const parts = pattern.split('/').filter((part) => /^\p{L}[\p{L}\p{N}_-]*$/u.test(part));
    const word = parts.findLast((part) => !/^(?:api|v\d+)$/i.test(part)) ?? 'page';
    const taken = new Set([...this.roles.values()].map(({ name }) => name));
    for (let count = 1; ; count++) {
      const name = `for-${word.slice(0, 40)}${count === 1 ? '' : `-${count}`}`;
      if (!taken.has(name)) return name;
    }
  }
}

/** How everybody stands to a page, for reading or for writing it. */
export function standAt(seen: readonly Seen[], access: 'read' | 'write'): Stand {
  const own = seen.filter(({ method }) => isSafe(method) === (access === 'read'));
  const at = (who: string | null) => {
    const verdicts = own.filter((each) => each.who === who).map(({ verdict }) => verdict.kind);
    // Whoever was let in once may: what came otherwise had another cause.
    return verdicts.includes('in') ? 'in' : verdicts.length > 0 ? 'out' : null;
  };
  const people = [...new Set(own.flatMap(({ who }) => (who === null ? [] : [who])))];
  return {
    guest: at(null),
    isGuestUnsure:
      new Set(own.filter(({ who }) => who === null).map(({ verdict }) => verdict.kind === 'in')).size > 1,
    admitted: people.filter((who) => at(who) === 'in'),
    refused: people.filter((who) => at(who) === 'out'),
  };
}

/**
 * Whether pages of many people were given each to its owner and refused to others; null where nobody was seen at another's.
 *
 * @param ownerIn whose page an address is
 */
export function isOfOwners(
  seen: readonly Seen[],
  access: 'read' | 'write',
  ownerIn: (path: string) => string | null,
): boolean | null {
  const own = seen.filter(({ who, method }) => who !== null && isSafe(method) === (access === 'read'));
  const others = own.filter(({ who, path }) => ownerIn(path) !== who);
  return others.length === 0 ? null : others.every(({ verdict }) => verdict.kind !== 'in');
}

/** Whom a page is for, as it was seen; `guess` says what was not. */
export interface FoundAudience {
  readonly audience: 'everyone' | 'guests' | 'signed-in' | readonly [string];
  readonly guess: string | null;
}

/** Why an audience is guessed that no guest tried. */
export const NO_GUEST = 'no guest was recorded here';

/** Whom a page is for; null where nobody asked. */
export function audienceAt(
  stand: Stand,
  page: Pick<SeenPage, 'pattern'>,
  people: readonly string[],
  roles: FoundRoles,
  isWayIn: boolean,
): FoundAudience | null {
  const { guest, isGuestUnsure, admitted, refused } = stand;
  if (guest === null && admitted.length === 0 && refused.length === 0) return null;
  const unseen = people.filter((person) => !admitted.includes(person) && !refused.includes(person));
  if (guest === 'in') {
    if (refused.length > 0 && admitted.length === 0) return { audience: 'guests', guess: null };
    if (refused.length > 0) {
      return { audience: 'everyone', guess: `guests were let in, and ${refused.join(', ')} not` };
    }
    if (isWayIn) {
      return admitted.length > 0
        ? { audience: 'everyone', guess: null }
        : { audience: 'guests', guess: 'nobody who is signed in was recorded here' };
    }
    const only = admitted.length === 0 && people.length > 0 ? 'only guests were recorded here' : null;
    const guess = isGuestUnsure ? 'guests were let in at one time, and refused at another' : only;
    return { audience: 'everyone', guess };
  }
  const guesses = guest === null ? [NO_GUEST] : [];
  if (admitted.length === 0 && refused.length === 0) {
    return {
      audience: 'signed-in',
      guess: 'a guest was refused, and nobody who is signed in was recorded here',
    };
  }
  if (refused.length === 0) {
    if (people.length === 1) guesses.push(`nobody but ${people[0] ?? ''} was recorded`);
    else if (unseen.length > 0) guesses.push(`only ${were(admitted)} recorded here`);
    return { audience: 'signed-in', guess: joined(guesses) };
  }
  if (admitted.length === 0) guesses.push('nobody who was recorded may');
  if (unseen.length > 0) guesses.push(`${were(unseen)} not recorded here`);
  return { audience: [roles.of(admitted, page.pattern)], guess: joined(guesses) };
}

/** Some people, with the word that goes on from them. */
function were(people: readonly string[]): string {
  return `${people.join(', ')} ${people.length === 1 ? 'was' : 'were'}`;
}

function joined(guesses: readonly string[]): string | null {
  return guesses.length === 0 ? null : guesses.join('; ');
}
