import type { Comparison, Grid } from '../core/internal.js';
import type { ComparisonJson, GridJson } from './json-formats.js';
import { columnsOf } from './grid-columns.js';
import { jsonText } from './json.js';
import { markdownText } from './markdown.js';

/** A grid in the format `cavrin/grid`. */
export function gridJson(grid: Grid, app: string, policy: string): string {
  const json: GridJson = {
    format: 'cavrin/grid',
    version: 1,
    app,
    policy,
    method: grid.method,
    by: grid.by,
    states: grid.states.map(({ name, condition, alike }) => ({ name, condition, alike: [...alike] })),
    rows: grid.rows.map(({ page, cells }) => ({ page, cells: [...cells] })),
  };
  return jsonText(json);
}

/** How a grid differs from an agreed table, in the format `cavrin/grid-comparison`. */
export function comparisonJson(result: Comparison, table: string): string {
  const json: ComparisonJson = {
    format: 'cavrin/grid-comparison',
    version: 2,
    table,
    compared: result.compared,
    differences: result.differences.map((difference) => ({ ...difference })),
  };
  return jsonText(json);
}

/** A grid as a table in Markdown (GitHub's tables), equal columns once. */
export function gridMarkdown(grid: Grid): string {
  const columns = columnsOf(grid);
  const row = (cells: readonly string[]) => `| ${cells.map(markdownText).join(' | ')} |`;
  return [
    row([`${grid.method} page`, ...columns.map(({ heading, others }) => [heading, ...others].join(', '))]),
    `|${[null, ...columns].map(() => ' --- |').join('')}`,
    ...grid.rows.map(({ page, cells }) =>
      row([
        page,
        ...columns.map(({ at }) => {
          const cell = cells[at] ?? '';
          return cell.startsWith('/') ? `→ ${cell}` : cell;
        }),
      ]),
    ),
    '',
  ].join('\n');
}
