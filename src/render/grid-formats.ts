import type { Comparison, Grid } from '../core/internal.js';
import type { ComparisonJson, GridJson } from './json-formats.js';
import { jsonText } from './json.js';

/** A grid in the format `cavrin/grid`. */
export function gridJson(grid: Grid, app: string, policy: string): string {
  const json: GridJson = {
    format: 'cavrin/grid',
    version: 1,
    app,
    policy,
    method: grid.method,
    states: grid.states.map(({ name, alike }) => ({ name, alike: [...alike] })),
    rows: grid.rows.map(({ page, cells }) => ({ page, cells: [...cells] })),
  };
  return jsonText(json);
}

/** How a grid differs from an agreed table, in the format `cavrin/grid-comparison`. */
export function comparisonJson(result: Comparison, table: string): string {
  const json: ComparisonJson = {
    format: 'cavrin/grid-comparison',
    version: 1,
    table,
    compared: result.compared,
    missingStates: [...result.missingStates],
    differences: result.differences.map((difference) => ({ ...difference })),
  };
  return jsonText(json);
}

/** A grid as a table in Markdown (GitHub's tables). */
export function gridMarkdown(grid: Grid): string {
  const row = (cells: readonly string[]) => `| ${cells.map(escapeMarkdown).join(' | ')} |`;
  const head = [`${grid.method} page`, ...grid.states.map((state) => state.name)];
  return [
    row(head),
    `|${head.map(() => ' --- |').join('')}`,
    ...grid.rows.map(({ page, cells }) =>
      row([page, ...cells.map((cell) => (cell.startsWith('/') ? `→ ${cell}` : cell))]),
    ),
    '',
  ].join('\n');
}

/** Text of a policy stays text: no markup, no HTML, no end of the cell. */
function escapeMarkdown(text: string): string {
  return text
    .replace(/[\\`*_[\]|]/g, '\\$&')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;');
}
