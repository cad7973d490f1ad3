import { SHOWN, type Comparison, type Grid } from '../core/internal.js';
import { columnsOf } from './grid-columns.js';
import { flow } from './columns.js';
import { count, paletteOf, printable, type Look, type Palette } from './style.js';
import { plain, table, type TableCell } from './table.js';

/** A grid for a terminal: equal columns and equal rows are shown once, with a legend of what stands for what. */
export function gridText(grid: Grid, app: string, file: string, look: Look): string {
  const palette = paletteOf(look);
  const columns = columnsOf(grid);
  const groups = new Map<string, { pages: string[]; cells: readonly string[] }>();
  for (const { page, cells } of grid.rows) {
    const shown = columns.map(({ at }) => cells[at] ?? '');
    const key = shown.join('\n');
    const group = groups.get(key) ?? { pages: [], cells: shown };
    group.pages.push(printable(page));
    groups.set(key, group);
  }
  const asAbove = { text: 'as above', tint: palette.quiet };
  const rows = [...groups.values()].flatMap(({ pages: [page = '', ...others], cells }) => [
    [plain(page), ...cells.map((cell) => cellOf(cell, palette))],
    ...others.map((other) => ({ label: plain(other), note: asAbove })),
  ]);
  const heading = [`${grid.method} page`, ...columns.map(({ heading }) => printable(heading))];
  const title = `${palette.strong(printable(app))}  ${palette.quiet(printable(file))}`;
  const body = table(heading, rows, look.width, palette.quiet);
  const legend = [
    ...columns.flatMap(({ heading, others }) =>
      others.length === 0 ? [] : [`${printable(heading)} also stands for: ${printable(others.join(', '))}`],
    ),
    `shown: ${grid.method === 'GET' ? 'they see the page' : 'what they send is taken'}; a number: they are refused with that status; → a path: they land there`,
  ];
  const size = `${count(grid.rows.length, 'row')}, ${count(grid.states.length, 'login state')}`;
  const notes = legend.flatMap((line) =>
    flow(line.split(' '), look.width, ' ').map((each) => palette.quiet(each)),
  );
  return [title, '', ...body, '', ...notes, '', size, ''].join('\n');
}

function cellOf(cell: string, palette: Palette): TableCell {
  if (cell === SHOWN) return { text: cell, tint: palette.good };
  const lands = cell.startsWith('/');
  return { text: lands ? `→ ${printable(cell)}` : cell, tint: lands ? palette.careless : palette.bad };
}

/** How a grid differs from an agreed table: a line for each cell, then a count. */
export function comparisonText(result: Comparison, table: string, look: Look): string {
  const palette = paletteOf(look);
  const cross = palette.bad('✗');
  const lines = result.differences.flatMap(({ page, state, agreed, actual }) => {
    if (page === null) return [];
    const said =
      state === null
        ? `${page} is ${agreed} but ${actual}`
        : `${state} at ${page}: agreed ${agreed}, now ${actual}`;
    return [`${cross} ${printable(said)}`];
  });
  const states = result.differences.flatMap(({ page, state }) =>
    page === null && state !== null ? [state] : [],
  );
  if (states.length > 0) {
    const said = `${count(states.length, 'login state')} of the policy not in the table: ${printable(states.join(', '))}`;
    lines.push(
      ...flow(said.split(' '), look.width - 2, ' ').map((part, at) => `${at === 0 ? cross : ' '} ${part}`),
    );
  }
  const compared = count(result.compared, 'cell');
  const sum =
    result.differences.length === 0
      ? palette.good(`${compared} as agreed in ${printable(table)}`)
      : palette.bad(
          `${count(result.differences.length, 'difference')} from ${printable(table)}, of ${compared}`,
        );
  return [...lines, sum, ''].join('\n');
}
