import type { Line, Section } from './drafted.js';
import type { FoundRoles } from './people-found.js';
import type { Understood } from './story.js';
import type { FoundWays } from './ways-found.js';

/** Where people land: by the roles that pages ask for, those that the fewest hold first, and by roles made up where these do not do. */
export function landingSection(
  { login, people, addresses }: Understood,
  { landings }: FoundWays,
  roles: FoundRoles,
): Section | null {
  if (login === null) return null;
  const otherwise = usualOf(landings, roles);
  if (otherwise === null) {
    return {
      key: 'landing',
      value: { lines: [{ key: null, value: { otherwise: '/' }, guess: 'no landing was recorded' }] },
    };
  }
  const left = new Map(landings);
  const lines: Line[] = [];
  for (const { name, holders } of roles.all) {
    const targets = new Set(holders.flatMap((each) => left.get(each) ?? []));
    const [to] = targets;
    if (targets.size !== 1 || to === undefined || to === otherwise) continue;
    lines.push({ key: null, value: { role: name, to: addresses.safe(to) } });
    for (const each of holders) left.delete(each);
  }
  const others = new Map<string, string[]>();
  for (const [person, to] of left) {
    if (to !== otherwise) others.set(to, [...(others.get(to) ?? []), person]);
  }
  const own = [...others].map(([to, holders]): Line => {
    return { key: null, value: { role: roles.of(holders, to), to: addresses.safe(to) } };
  });
  const unseen = people.filter((person) => !landings.has(person));
  const guess =
    unseen.length > 0 ? `that ${unseen.join(', ')} lands there too, which was not recorded` : null;
  const last: Line = { key: null, value: { otherwise: addresses.safe(otherwise) }, guess };
  return { key: 'landing', value: { lines: [...own, ...lines, last] } };
}

/** The landing of whoever holds the fewest roles; null where none is known. */
function usualOf(landings: ReadonlyMap<string, string>, roles: FoundRoles): string | null {
  const heldBy = (person: string) => roles.all.filter(({ holders }) => holders.includes(person)).length;
  const sorted = [...landings].sort(([one], [other]) => heldBy(one) - heldBy(other));
  const least = sorted.filter(([person]) => heldBy(person) === heldBy(sorted[0]?.[0] ?? ''));
  const counts = new Map<string, number>();
  for (const [, to] of least) counts.set(to, (counts.get(to) ?? 0) + 1);
  return [...counts].sort((one, other) => other[1] - one[1])[0]?.[0] ?? null;
}
