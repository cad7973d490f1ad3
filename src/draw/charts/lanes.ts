import type { Spec } from 'vega';
import {
  CREDENTIALS,
  credentialWords,
  formatDuration,
  holdingsOf,
  type Stage,
  type StepResult,
} from '../../core/internal.js';
import { actionWords } from '../../render/step-words.js';
import { printable } from '../../render/style.js';
import { COLORS, FONT_FAMILY, svgOfChart, wrapped } from './chart.js';

const COLUMN = 148;
const LEFT = 128;
const LANE = 74;
const BAR = 18;
const TOP = 26;

/** A walk as lanes: one a browser, over time, with the life of what each browser holds as bars below. */
export async function lanesSvg(stage: Stage, steps: readonly StepResult[]): Promise<string> {
  const browsers = [...new Set(steps.map(({ step }) => step.browser))];
  const bars = barsOf(stage, steps, browsers);
  const lanesHeight = browsers.length * LANE;
  const names = [...new Set(bars.map(({ name }) => name))];
  const width = LEFT + steps.length * COLUMN;
  const height = TOP + lanesHeight + names.length * BAR + 12;
  const boxes = steps.map((result, at) => {
    const { step, outcome, time } = result;
    const isWrong = result.differences.length > 0 || result.broken.length > 0 || result.impossible !== null;
    const isTime = step.action.verb === 'wait';
    const { lands, status, seenAs } = outcome;
    const came = seenAs === null ? '' : `${lands ?? ''} ${status ?? ''}, seen as ${seenAs}`.trim();
    return {
      x: LEFT + at * COLUMN,
      y: TOP + browsers.indexOf(step.browser) * LANE,
      time: at === 0 || steps[at - 1]?.time !== time ? formatDuration(time) : '',
      words: wrapped(`${isWrong ? '× ' : ''}${actionWords(step)}`, 23, 2),
      came: wrapped(came, 26, 2),
      isWrong,
      isTime,
    };
  });
  const spec: Spec = {
    width,
    height,
    padding: 4,
    data: [
      {
        name: 'lanes',
        values: browsers.map((name, at) => ({ words: wrapped(name, 18, 2), y: TOP + at * LANE })),
      },
      { name: 'boxes', values: boxes },
      {
        name: 'bars',
        values: bars.map((bar) => ({ ...bar, y: TOP + lanesHeight + 8 + names.indexOf(bar.name) * BAR })),
      },
      {
        name: 'names',
        values: names.map((name, at) => ({ name, y: TOP + lanesHeight + 8 + at * BAR + 7 })),
      },
    ],
    marks: [
      {
        type: 'rule',
        from: { data: 'lanes' },
        encode: {
          enter: {
            x: { value: 0 },
            x2: { value: width },
            y: { field: 'y', offset: LANE - 4 },
            stroke: { value: COLORS.line },
          },
        },
      },
      text('lanes', 'words', { x: { value: 0 }, y: { field: 'y', offset: 18 } }, { bold: true }),
      text('boxes', 'time', { x: { field: 'x' }, y: { value: TOP - 10 } }, { quiet: true }),
      {
        type: 'rect',
        from: { data: 'boxes' },
        encode: {
          enter: {
            x: { field: 'x' },
            width: { value: COLUMN - 8 },
            y: { field: 'y' },
            height: { value: LANE - 10 },
            cornerRadius: [{ test: 'datum.isTime', value: 14 }, { value: 2 }],
            fill: [{ test: 'datum.isTime', value: COLORS.paleGrey }, { value: '#ffffff' }],
            stroke: [{ test: 'datum.isWrong', value: COLORS.red }, { value: COLORS.quiet }],
            strokeWidth: [{ test: 'datum.isWrong', value: 2.5 }, { value: 1 }],
            strokeDash: [{ test: 'datum.isTime', value: [3, 3] }, { value: [] }],
          },
        },
      },
      text('boxes', 'words', { x: { field: 'x', offset: 6 }, y: { field: 'y', offset: 14 } }, { bold: true }),
      text('boxes', 'came', { x: { field: 'x', offset: 6 }, y: { field: 'y', offset: 42 } }, { quiet: true }),
      {
        type: 'rect',
        from: { data: 'bars' },
        encode: {
          enter: {
            x: { field: 'from' },
            x2: { field: 'to' },
            y: { field: 'y' },
            height: { value: BAR - 6 },
            fill: { value: COLORS.paleBlue },
            stroke: { value: COLORS.blue },
          },
        },
      },
      text('names', 'name', { x: { value: 0 }, y: { field: 'y', offset: 3 } }, { quiet: true }),
    ],
  };
  return svgOfChart(spec);
}

type Place = Readonly<
  Record<'x' | 'y', { readonly value?: number; readonly field?: string; readonly offset?: number }>
>;

function text(data: string, field: string, { x, y }: Place, how: { bold?: true; quiet?: true }) {
  return {
    type: 'text' as const,
    from: { data },
    encode: {
      enter: {
        x,
        y,
        text: { field },
        fontSize: { value: how.quiet === true ? 10 : 11 },
        fontWeight: { value: how.bold === true ? 'bold' : 'normal' },
        font: { value: FONT_FAMILY },
        fill: { value: how.quiet === true ? COLORS.quiet : COLORS.ink },
        lineHeight: { value: 13 },
      },
    },
  } as const;
}

interface Bar {
  readonly name: string;
  readonly from: number;
  readonly to: number;
}

/** From which step to which each thing counts that a browser holds. */
function barsOf(stage: Stage, steps: readonly StepResult[], browsers: readonly string[]): Bar[] {
  return browsers.flatMap((browser) =>
    CREDENTIALS.flatMap((what) => {
      const counts = steps.map((result, at) => {
        // What the browser holds is what its own latest step left in it.
        const latest = steps.slice(0, at + 1).findLast(({ step }) => step.browser === browser);
        if (latest === undefined) return false;
        const held = holdingsOf(stage, result.played.state, latest.played.browser, result.time);
        return held.some((each) => each.what === what && each.counts);
      });
      const name = printable(
        browsers.length > 1 ? `${browser}: ${credentialWords(what)}` : credentialWords(what),
      );
      return runsOf(counts).map(([from, to]): Bar => ({
        name,
        from: LEFT + from * COLUMN,
        to: LEFT + to * COLUMN - 8,
      }));
    }),
  );
}

/** The stretches in which something holds, each from one index up to another. */
function runsOf(holds: readonly boolean[]): [number, number][] {
  const runs: [number, number][] = [];
  holds.forEach((each, at) => {
    const last = runs.at(-1);
    if (!each) return;
    if (last?.[1] === at) last[1] = at + 1;
    else runs.push([at, at + 1]);
  });
  return runs;
}
