import type { Grid } from '../core/internal.js';

/** A column of a shown grid. */
export interface GridColumn {
  /** Where its cells stand in the rows. */
  readonly at: number;
  readonly heading: string;
  /** Further states with the same cells, and accounts of the same kind. */
  readonly others: readonly string[];
}

/** Who has been shut out is never hidden among others, but for guests, as whom they should be seen. */
const SHUT_OUT: readonly unknown[] = ['suspended', 'removed'];

/** The columns that differ. */
export function columnsOf(grid: Grid): GridColumn[] {
  const groups = new Map<string, number[]>();
  const cellsOf = (at: number) => grid.rows.map(({ cells }) => cells[at] ?? '').join('\n');
  const asGuest = cellsOf(0);
  grid.states.forEach(({ condition }, at) => {
    const cells = cellsOf(at);
    const key = cells !== asGuest && SHUT_OUT.includes(condition) ? `shut out\n${cells}` : cells;
    groups.set(key, [...(groups.get(key) ?? []), at]);
  });
  return [...groups.values()].map((group) => {
    const [at = 0] = group;
    const [first = '', ...others] = namesOf(grid, group);
    return { at, heading: first, others };
  });
}

/** The states of a column by name: those of one condition together, and what the same people are in several. */
function namesOf(grid: Grid, group: readonly number[]): string[] {
  const byCondition = new Map<string, string[]>();
  for (const { name, condition, alike } of group.flatMap((at) => grid.states[at] ?? [])) {
    const bare = condition === null ? name : name.slice(0, -condition.length - 1);
    const who = [bare.replace(/^role (?=.)/, grid.by === 'roles' ? '' : '$&'), ...alike];
    byCondition.set(condition ?? '', [...(byCondition.get(condition ?? '') ?? []), ...who]);
  }
  const byPeople = new Map<string, string[]>();
  for (const [condition, people] of byCondition) {
    if (condition === '') continue;
    const who = isAll(grid, people.length, condition) ? 'anybody' : listed(people);
    byPeople.set(who, [...(byPeople.get(who) ?? []), condition]);
  }
  return [
    ...(byCondition.get('') ?? []),
    ...[...byPeople].map(([who, conditions]) => `${who} ${listed(conditions)}`),
  ];
}

/** Whether so many are all roles that come into a condition. */
function isAll({ by, states }: Grid, number: number, condition: string): boolean {
  return (
    by === 'roles' && number > 1 && states.filter((state) => state.condition === condition).length === number
  );
}

function listed(names: readonly string[]): string {
  return [names.slice(0, -1).join(', '), names.at(-1)].filter((part) => part !== '').join(' or ');
}
