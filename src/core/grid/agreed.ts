import Papa from 'papaparse';
import type { Diagnostic } from '../language/text/diagnostic.js';
import type { Policy } from '../language/policy.js';
import { problem } from '../language/text/problems.js';
import type { Source } from '../language/text/source.js';
import { nearest } from '../language/text/suggestions.js';
import type { Grid } from './grid.js';

/** A cell of a grid that is not as it was agreed. */
export interface GridDifference {
  /** null for a login state that stands in only one of the two. */
  readonly page: string | null;
  /** null for a page that stands in only one of the two. */
  readonly state: string | null;
  readonly agreed: string;
  readonly actual: string;
}

/** What comes of holding a grid against an agreed table. */
export interface Comparison {
  readonly differences: readonly GridDifference[];
  readonly compared: number;
}

/** Writes a grid as CSV (RFC 4180): a row for each page, a column for each state. */
export function gridCsv(grid: Grid): string {
  const rows = [
    ['page', ...grid.states.map((state) => state.name)],
    ...grid.rows.map(({ page, cells }) => [page, ...cells]),
  ];
  return `${Papa.unparse(rows, { newline: '\n' })}\n`;
}

/**
 * Holds a grid against an agreed table, as `gridCsv` writes it or as somebody wrote it by hand: columns and rows in any
 * order, cells left empty where nothing was agreed. What is wrong with the table is reported instead.
 */
export function compareGrid(grid: Grid, agreed: Source): Comparison | readonly Diagnostic[] {
  const table = Papa.parse<string[]>(agreed.text.replace(/^\ufeff/, ''), { skipEmptyLines: 'greedy' });
  const [head = [], ...rows] = table.data.map((row) => row.map((cell) => cell.trim()));
  const faults = [
    ...table.errors
      .filter((error) => error.type === 'Quotes')
      .map((error) => fault(agreed, (error.row ?? 0) + 1, `not valid CSV: ${error.message}`, null)),
    ...headFaults(grid, head, agreed),
    ...rows.flatMap((row, at) => rowFaults(grid, row, at + 2, agreed)),
  ];
  if (faults.length > 0) return faults;

  const columns = grid.states.map((state) => head.indexOf(state.name));
  const differences: GridDifference[] = [];
  let compared = 0;
  const byPage = new Map(rows.map((row) => [row[0] ?? '', row]));
  for (const { page, cells } of grid.rows) {
    const row = byPage.get(page);
    if (row === undefined) {
      differences.push({ page, state: null, agreed: 'not in the table', actual: 'a page of the policy' });
      continue;
    }
    grid.states.forEach((state, at) => {
      const said = row[columns[at] ?? -1] ?? '';
      const actual = cells[at] ?? '';
      if (said === '') return;
      compared++;
      if (said !== actual) differences.push({ page, state: state.name, agreed: said, actual });
    });
  }
  const unknown = grid.states.flatMap(({ name }, at): GridDifference[] =>
    columns[at] === -1
      ? [{ page: null, state: name, agreed: 'not in the table', actual: 'a login state of the policy' }]
      : [],
  );
  return { differences: [...differences, ...unknown], compared };
}

/** Whether a table has columns for accounts, and not for roles. */
export function isOfAccounts({ accounts }: Policy, agreed: Source): boolean {
  const [head = []] = Papa.parse<string[]>(agreed.text.replace(/^\ufeff/, ''), { preview: 1 }).data;
  return head.some(
    (name) => !/^(?:role|anybody) ./.test(name.trim()) && accounts.has(name.trim().split(' ')[0] ?? ''),
  );
}

function headFaults(grid: Grid, head: readonly string[], agreed: Source): Diagnostic[] {
  if (head[0]?.toLowerCase() !== 'page') {
    const says = 'the first line has the columns: page, then the login states';
    return [fault(agreed, 1, says, `start it with page,${grid.states[0]?.name ?? 'guest'}`)];
  }
  const names = grid.states.map((state) => state.name);
  return head.slice(1).flatMap((name, at) => {
    if (!names.includes(name)) {
      const near = nearest(name, names);
      const hint = near === null ? `the states are ${names.join(', ')}` : `did you mean ${near}?`;
      return [fault(agreed, 1, `the policy has no login state ${name}`, hint)];
    }
    return head.indexOf(name) === at + 1
      ? []
      : [fault(agreed, 1, `two columns are called ${name}`, 'keep one')];
  });
}

/** A cell is `shown`, a status, a path, or the word for a way that ends nowhere. */
const CELL = /^(?:shown|[1-5]\d\d|\/\S*|redirect-loop|off-origin|nothing|)$/;

function rowFaults(grid: Grid, row: readonly string[], line: number, agreed: Source): Diagnostic[] {
  const [page = '', ...cells] = row;
  const pages = grid.rows.map((each) => each.page);
  const faults = cells
    .filter((cell) => !CELL.test(cell))
    .map((cell) =>
      fault(agreed, line, `${cell} at ${page} says nothing`, 'write shown, a status such as 403, or a path'),
    );
  if (pages.includes(page)) return faults;
  const near = nearest(page, pages);
  const hint = near === null ? 'take the row out, or add the page to the policy' : `did you mean ${near}?`;
  return [...faults, fault(agreed, line, `the policy has no page ${page}`, hint)];
}

/** A fault at a line of the table, as far as its rows take one line each. */
function fault(source: Source, line: number, says: string, hint: string | null): Diagnostic {
  const start = source.lineStarts[line - 1] ?? 0;
  const end = source.lineStarts[line] ?? source.text.length;
  return problem('bad-table', { problem: says, hint }, { source, start, end });
}
