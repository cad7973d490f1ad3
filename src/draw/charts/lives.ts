import type { Spec } from 'vega';
import { formatDuration, type Exposure, type Limit, type Seconds } from '../../core/internal.js';
import { endsWords, exposureWords } from '../../render/proof-words.js';
import { printable } from '../../render/style.js';
import { COLORS, FONT_FAMILY, svgOfChart } from './chart.js';

interface Row {
  readonly at: number;
  readonly name: string;
  readonly kind: 'heading' | 'limit' | 'exposure';
  /** null: without end. */
  readonly seconds: Seconds | null;
  readonly label: string;
}

const MINUTE = 60;
const DAY = 86_400;
const YEAR = 365 * DAY;
const TICKS = [
  [1, '1 s'],
  [10, '10 s'],
  [MINUTE, '1 min'],
  [10 * MINUTE, '10 min'],
  [3_600, '1 h'],
  [DAY, '1 day'],
  [7 * DAY, '1 week'],
  [30 * DAY, '30 days'],
  [YEAR, '1 year'],
] as const;

const ROW = 22;
const LEFT = 330;
const WIDTH = 1000;
const TOP = 26;

/** How long things last: a bar for each limit and each exposure, on one logarithmic axis from a second to a year. */
export async function livesSvg(
  limits: readonly Limit[],
  exposures: readonly Exposure[] | null,
): Promise<string> {
  const all = [
    heading('What the policy sets'),
    ...limits.map(({ name, seconds }) => ({
      name,
      kind: 'limit' as const,
      seconds,
      label: seconds === null ? 'no limit' : formatDuration(seconds),
    })),
    ...(exposures === null || exposures.length === 0
      ? []
      : [heading('How long something can still be used')]),
    ...(exposures ?? []).map((each) => {
      const { what, since } = exposureWords(each);
      return {
        name: `${what}, after ${since}`,
        kind: 'exposure' as const,
        seconds: each.ends,
        label: each.ends === 0 ? 'opens nothing' : endsWords(each),
      };
    }),
  ];
  const rows = all.map((row, at): Row => ({ ...row, name: printable(row.name), at }));
  return svgOfChart(specOf(rows));
}

function heading(name: string): Omit<Row, 'at'> {
  return { name, kind: 'heading', seconds: 0, label: '' };
}

function specOf(rows: readonly Row[]): Spec {
  const height = rows.length * ROW;
  const room = WIDTH - LEFT - 90;
  const scale = (seconds: Seconds) =>
    (Math.log(Math.max(1, Math.min(seconds, YEAR))) / Math.log(YEAR)) * room;
  const bars = rows
    .filter(({ kind }) => kind !== 'heading')
    .map((row) => ({
      ...row,
      y: row.at * ROW + 4,
      // What opens nothing has a mark at the axis and no length.
      end: row.seconds === null ? room + 12 : row.seconds === 0 ? 0 : Math.max(2, scale(row.seconds)),
      isEndless: row.seconds === null,
    }));
  return {
    width: WIDTH,
    height: height + TOP + 4,
    padding: 6,
    data: [
      { name: 'rows', values: rows.map((row) => ({ ...row, y: row.at * ROW + ROW / 2 })) },
      { name: 'bars', values: bars },
      { name: 'ticks', values: TICKS.map(([seconds, label]) => ({ x: scale(seconds), label })) },
    ],
    marks: [
      {
        type: 'rule',
        from: { data: 'ticks' },
        encode: {
          enter: {
            x: { field: 'x', offset: LEFT },
            y: { value: TOP - 6 },
            y2: { value: height + TOP },
            stroke: { value: COLORS.line },
          },
        },
      },
      {
        type: 'text',
        from: { data: 'ticks' },
        encode: {
          enter: {
            x: { field: 'x', offset: LEFT },
            y: { value: TOP - 12 },
            text: { field: 'label' },
            align: { value: 'center' },
            fontSize: { value: 10 },
            font: { value: FONT_FAMILY },
            fill: { value: COLORS.quiet },
          },
        },
      },
      {
        type: 'text',
        from: { data: 'rows' },
        encode: {
          enter: {
            x: { value: LEFT - 10 },
            y: { field: 'y', offset: TOP },
            text: { field: 'name' },
            align: { value: 'right' },
            baseline: { value: 'middle' },
            fontSize: { value: 12 },
            fontWeight: [{ test: "datum.kind === 'heading'", value: 'bold' }, { value: 'normal' }],
            font: { value: FONT_FAMILY },
            fill: { value: COLORS.ink },
          },
        },
      },
      {
        type: 'rect',
        from: { data: 'bars' },
        encode: {
          enter: {
            x: { value: LEFT },
            x2: { field: 'end', offset: LEFT },
            y: { field: 'y', offset: TOP },
            height: { value: ROW - 8 },
            // Limits are solid, exposures are hollow: no colour is needed to tell them apart.
            fill: [{ test: "datum.kind === 'limit'", value: COLORS.blue }, { value: COLORS.paleOrange }],
            stroke: [{ test: "datum.kind === 'limit'", value: COLORS.blue }, { value: COLORS.orange }],
          },
        },
      },
      {
        type: 'symbol',
        from: { data: 'bars' },
        encode: {
          enter: {
            shape: { value: 'triangle-right' },
            x: { field: 'end', offset: LEFT },
            y: { field: 'y', offset: TOP + (ROW - 8) / 2 },
            size: { value: 120 },
            opacity: [{ test: 'datum.isEndless', value: 1 }, { value: 0 }],
            fill: [{ test: "datum.kind === 'limit'", value: COLORS.blue }, { value: COLORS.orange }],
          },
        },
      },
      {
        type: 'text',
        from: { data: 'bars' },
        encode: {
          enter: {
            x: { field: 'end', offset: LEFT + 10 },
            y: { field: 'y', offset: TOP + (ROW - 8) / 2 },
            text: { field: 'label' },
            baseline: { value: 'middle' },
            fontSize: { value: 11 },
            font: { value: FONT_FAMILY },
            fill: { value: COLORS.ink },
          },
        },
      },
    ],
  };
}
