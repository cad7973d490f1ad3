import type { Addresses } from './addresses.js';
import type { Line, Plain, Section } from './drafted.js';
import type { FoundRoles } from './people-found.js';
import type { Understood } from './story.js';
import type { FoundWays } from './ways-found.js';

/** Where people land: by the roles that pages ask for, those that the fewest hold first, and by roles made up where these do not do. */
export function landingSection(
  { login, people, addresses }: Understood,
  { landings, returnedTo }: FoundWays,
  roles: FoundRoles,
  pages: readonly string[],
): Section | null {
  if (login === null) return null;
  const otherwise = usualOf(landings, roles);
  if (otherwise === null) {
    return {
      key: 'landing',
      value: {
        lines: [
          {
            key: null,
            value: { otherwise: pages.includes('/') ? '/' : (returnedTo ?? '/') },
            guess: 'no landing was recorded',
          },
        ],
      },
    };
  }
  const entries = entriesBy(landings, otherwise, roles, addresses);
  const unseen = people.filter((person) => !landings.has(person));
  const guess =
    unseen.length > 0
      ? `that ${unseen.join(', ')} ${unseen.length === 1 ? 'lands' : 'land'} there too, which was not recorded`
      : null;
  const last: Line = { key: null, value: { otherwise: addresses.safe(otherwise) }, guess };
  return { key: 'landing', value: { lines: [...entries.map((value) => ({ key: null, value })), last] } };
}

/** Where people are sent who are not sent where most are, by roles. */
export function entriesBy(
  landings: ReadonlyMap<string, string>,
  otherwise: string,
  roles: FoundRoles,
  addresses: Addresses,
): Plain[] {
  const left = new Map(landings);
  const entries: Plain[] = [];
  for (const { name, holders } of roles.all) {
    const targets = new Set(holders.flatMap((each) => left.get(each) ?? []));
    const [to] = targets;
    if (targets.size !== 1 || to === undefined || to === otherwise) continue;
    entries.push({ role: name, to: addresses.safe(to) });
    for (const each of holders) left.delete(each);
  }
  const others = new Map<string, string[]>();
  for (const [person, to] of left) {
    if (to !== otherwise) others.set(to, [...(others.get(to) ?? []), person]);
  }
  const own = [...others].map(([to, holders]): Plain => ({
    role: roles.of(holders, to),
    to: addresses.safe(to),
  }));
  return [...own, ...entries];
}

/** The landing of whoever holds the fewest roles; null where none is known. */
export function usualOf(landings: ReadonlyMap<string, string>, roles: FoundRoles): string | null {
  const heldBy = (person: string) => roles.all.filter(({ holders }) => holders.includes(person)).length;
  const sorted = [...landings].sort(([one], [other]) => heldBy(one) - heldBy(other));
  const least = sorted.filter(([person]) => heldBy(person) === heldBy(sorted[0]?.[0] ?? ''));
  const counts = new Map<string, number>();
  for (const [, to] of least) counts.set(to, (counts.get(to) ?? 0) + 1);
  return [...counts].sort((one, other) => other[1] - one[1])[0]?.[0] ?? null;
}
