import type { Spec } from 'vega';
import {
  CREDENTIALS,
  credentialWords,
  formatDuration,
  holdingsOf,
  type Stage,
  type StepResult,
  isPause,
} from '../../core/internal.js';
import { actionWords } from '../../render/step-words.js';
import { printable } from '../../render/style.js';
import { COLORS, svgOfChart, textMark, wrapped } from './chart.js';

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
    const isTime = isPause(step.action);
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
      textMark('lanes', 'words', { x: { value: 0 }, y: { field: 'y', offset: 18 } }, { bold: true }),
      textMark('boxes', 'time', { x: { field: 'x' }, y: { value: TOP - 10 } }, { quiet: true }),
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
      textMark(
        'boxes',
        'words',
        { x: { field: 'x', offset: 6 }, y: { field: 'y', offset: 14 } },
        { bold: true },
      ),
      textMark(
        'boxes',
        'came',
        { x: { field: 'x', offset: 6 }, y: { field: 'y', offset: 42 } },
        { quiet: true },
      ),
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
      textMark('names', 'name', { x: { value: 0 }, y: { field: 'y', offset: 3 } }, { quiet: true }),
    ],
  };
  return svgOfChart(spec);
}

interface Bar {
  readonly name: string;
  readonly from: number;
  readonly to: number;
}

/** From which step to which each thing counts that a browser holds. */
function barsOf(stage: Stage, steps: readonly StepResult[], browsers: readonly string[]): Bar[] {
  return browsers.flatMap((browser) => {
    let own: StepResult | undefined;
    // What a browser holds is what its own latest step left in it.
    const held = steps.map((result) => {
      if (result.step.browser === browser) own = result;
      return own === undefined ? [] : holdingsOf(stage, result.played.state, own.played.browser, result.time);
    });
    return CREDENTIALS.flatMap((what) => {
      const counts = held.map((all) => all.some((each) => each.what === what && each.counts));
      const words = credentialWords(what);
      const name = printable(browsers.length > 1 ? `${browser}: ${words}` : words);
      return runsOf(counts).map(([from, to]): Bar => ({
        name,
        from: LEFT + from * COLUMN,
        to: LEFT + to * COLUMN - 8,
      }));
    });
  });
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
