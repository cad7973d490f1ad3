import { SHOWN, type Comparison, type Grid } from '../core/internal.js';
import { flow } from './columns.js';
import { count, paletteOf, printable, type Look, type Palette } from './style.js';
import { plain, table, type TableCell } from './table.js';

/** A grid for a terminal: equal columns and equal rows are shown once, with a legend of what stands for what. */
export function gridText(grid: Grid, app: string, file: string, look: Look): string {
  const palette = paletteOf(look);
  const columns = distinctColumns(grid);
  const groups = new Map<string, { pages: string[]; cells: readonly string[] }>();
  for (const { page, cells } of grid.rows) {
    const shown = columns.map(({ at }) => cells[at] ?? '');
    const key = shown.join('\n');
    const group = groups.get(key) ?? { pages: [], cells: shown };
    group.pages.push(printable(page));
    groups.set(key, group);
  }
  const rows = [...groups.values()].flatMap(({ pages, cells }) =>
    pages.map((page, at) => [plain(page), ...(at === 0 ? cells.map((cell) => cellOf(cell, palette)) : [])]),
  );
  const heading = [`${grid.method} page`, ...columns.map(({ name }) => printable(name))];
  const title = `${palette.strong(printable(app))}  ${palette.quiet(printable(file))}`;
  const body = table(heading, rows, look.width, palette.quiet);
  const legend = [
    ...columns.flatMap(({ name, others }) =>
      others.length === 0 ? [] : [`${printable(name)} also stands for: ${printable(others.join(', '))}`],
    ),
    `shown: ${grid.method === 'GET' ? 'they see the page' : 'what they send is taken'}; a number: they are refused with that status; → a path: they land there;`,
    'a page without cells is like the one above it',
  ];
  const size = `${count(grid.rows.length, 'row')}, ${count(grid.states.length, 'login state')}`;
  const notes = legend.flatMap((line) =>
    flow(line.split(' '), look.width, ' ').map((each) => palette.quiet(each)),
  );
  return [title, '', ...body, '', ...notes, '', size, ''].join('\n');
}

interface Column {
  readonly at: number;
  readonly name: string;
  /** Further states with the same cells, and accounts of the same kind. */
  readonly others: string[];
}

function distinctColumns(grid: Grid): Column[] {
  const columns = new Map<string, Column>();
  grid.states.forEach(({ name, alike }, at) => {
    const key = grid.rows.map(({ cells }) => cells[at] ?? '').join('\n');
    const known = columns.get(key);
    if (known === undefined) columns.set(key, { at, name, others: [...alike] });
    else known.others.push(name, ...alike);
  });
  return [...columns.values()];
}

function cellOf(cell: string, palette: Palette): TableCell {
  if (cell === SHOWN) return { text: cell, tint: palette.good };
  const lands = cell.startsWith('/');
  return { text: lands ? `→ ${printable(cell)}` : cell, tint: lands ? palette.careless : palette.bad };
}

/** How a grid differs from an agreed table: a line for each cell, then a count. */
export function comparisonText(result: Comparison, table: string, look: Look): string {
  const palette = paletteOf(look);
  const lines = result.differences.map(({ page, state, agreed, actual }) =>
    state === null
      ? `${palette.bad('✗')} ${printable(page)} is ${agreed} but ${actual}`
      : `${palette.bad('✗')} ${printable(state)} at ${printable(page)}: agreed ${printable(agreed)}, now ${printable(actual)}`,
  );
  const compared = count(result.compared, 'cell');
  const sum =
    result.differences.length === 0
      ? palette.good(`${compared} as agreed in ${printable(table)}`)
      : palette.bad(
          `${count(result.differences.length, 'difference')} from ${printable(table)}, of ${compared}`,
        );
  const missing =
    result.missingStates.length === 0
      ? []
      : [palette.quiet(`not in the table, so not compared: ${printable(result.missingStates.join(', '))}`)];
  return [...lines, ...missing, sum, ''].join('\n');
}
