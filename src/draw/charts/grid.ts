import type { Spec } from 'vega';
import { SHOWN, type Grid } from '../../core/internal.js';
import { columnsOf } from '../../render/grid-columns.js';
import { printable } from '../../render/style.js';
import { COLORS, LINE, svgOfChart, textMark, widthOfText, wrapped } from './chart.js';

const ROW = 22;
const COLUMN = 118;

/** Pages against login states: what is shown, sent elsewhere or refused, each with a word and a shade of its own. */
export async function gridSvg(grid: Grid): Promise<string> {
  const columns = columnsOf(grid);
  const pages = grid.rows.map(({ page }) => printable(page));
  const left = Math.min(320, Math.max(80, ...pages.map((page) => widthOfText(page, 12) + 12)));
  const heads = columns.map(({ heading }, at) => ({ words: wrapped(heading, 18, 7), x: left + at * COLUMN }));
  const head = 12 + LINE * Math.max(1, ...heads.map(({ words }) => words.length));
  const cells = grid.rows.flatMap(({ cells: own }, row) =>
    columns.map(({ at }, column) => {
      const cell = own[at] ?? '';
      const kind = cell === SHOWN ? 'shown' : cell.startsWith('/') ? 'sent' : 'refused';
      return {
        kind,
        x: left + column * COLUMN,
        y: head + row * ROW,
        words: wrapped(kind === 'sent' ? `→ ${cell}` : cell, 18, 1),
      };
    }),
  );
  const spec: Spec = {
    width: left + columns.length * COLUMN,
    height: head + grid.rows.length * ROW + 4,
    padding: 4,
    data: [
      { name: 'heads', values: heads },
      { name: 'pages', values: pages.map((words, at) => ({ words, y: head + at * ROW })) },
      { name: 'cells', values: cells },
    ],
    marks: [
      {
        type: 'rect',
        from: { data: 'cells' },
        encode: {
          enter: {
            x: { field: 'x' },
            y: { field: 'y' },
            width: { value: COLUMN - 2 },
            height: { value: ROW - 2 },
            fill: [
              { test: "datum.kind === 'shown'", value: COLORS.paleBlue },
              { test: "datum.kind === 'sent'", value: '#ffffff' },
              { value: COLORS.paleOrange },
            ],
            stroke: { value: COLORS.line },
          },
        },
      },
      textMark('heads', 'words', { x: { field: 'x', offset: 4 }, y: { value: 14 } }, { bold: true }),
      textMark('pages', 'words', { x: { value: 0 }, y: { field: 'y', offset: 15 } }),
      textMark('cells', 'words', { x: { field: 'x', offset: 6 }, y: { field: 'y', offset: 14 } }),
    ],
  };
  return svgOfChart(spec);
}
