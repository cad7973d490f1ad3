import {
  differenceWords,
  formatDuration,
  positionOf,
  type Stage,
  type StepResult,
  type Trial,
  type Walk,
  type WalkResult,
  type YamlText,
  isPause,
} from '../core/internal.js';
import { flow, padTo, widthOf } from './columns.js';
import { messagesText } from './messages-text.js';
import { actionWords, hopsOf } from './step-words.js';
import { count, linked, paletteOf, printable, type Look, type Palette } from './style.js';

export interface WalksLook extends Look {
  /** Show only the walks that differ from what they expect. */
  readonly quiet: boolean;
  /** Show every message and what browsers hold; null: only a line a step. */
  readonly verbose: Stage | null;
  /** The walks whose steps are shown although they come out as expected, by name. */
  readonly opened: 'all' | readonly string[];
}

/** Walks as played. */
export interface PlayedWalks {
  readonly results: readonly WalkResult[];
  readonly app: string;
  readonly input: YamlText;
}

/** Walks as played against the policy of a text: a line a step, and a count at the end. */
export function walksText(
  results: readonly WalkResult[],
  app: string,
  policy: YamlText,
  look: WalksLook,
): string {
  const palette = paletteOf(look);
  const isOpen = ({ passed, walk }: WalkResult) =>
    !passed || look.verbose !== null || look.opened === 'all' || look.opened.includes(walk.name);
  const shown = look.quiet ? results.filter((result) => !result.passed) : results;
  const opened = shown.filter(isOpen);
  const sheet = new Sheet(opened, policy, palette, look);
  const title = `${palette.strong(printable(app))}  ${palette.quiet(printable(policy.source.file))}`;
  const head = opened.length === 0 ? title : `${title}\n${sheet.heading()}`;
  // Where only some are opened on purpose, the rest is a count.
  const isChosen = look.opened !== 'all' && look.opened.length > 0;
  const closed = shown.filter((result) => !isOpen(result));
  const lines = isChosen
    ? closed.length === 0
      ? []
      : [
          palette.quiet(
            `and ${count(closed.length, 'walk')} more that ${closed.length === 1 ? 'comes' : 'come'} out as expected (--steps shows all)`,
          ),
        ]
    : closed.map((result) => sheet.line(result));
  const blocks = [
    head,
    ...opened.map((result) => sheet.walk(result)),
    ...(lines.length === 0 ? [] : [lines.join('\n')]),
    summary(results, palette),
  ];
  return blocks.map((text) => `${text}\n`).join('\n');
}

/** Walks as played, under their headings, without title and count. */
export function walkBlocks(results: readonly WalkResult[], policy: YamlText, look: Look): string {
  const sheet = new Sheet(results, policy, paletteOf(look), {
    ...look,
    quiet: false,
    verbose: null,
    opened: 'all',
  });
  return [sheet.heading(), ...results.map((result) => sheet.walk(result))].join('\n\n');
}

/** Steps that were tried, in the same columns: the lines of each. */
export function triedStepTexts(
  { walk, results }: Pick<Trial, 'walk' | 'results'>,
  policy: YamlText,
  look: Look,
): string[][] {
  const open = { ...look, quiet: false, verbose: null, opened: 'all' } as const;
  const sheet = new Sheet([{ walk, steps: results, passed: true }], policy, paletteOf(look), open);
  return results.map((step) => sheet.step(step, null));
}

/** `25 walks, 98 steps: all as expected`, or how many were not. */
export function summary(results: readonly WalkResult[], palette: Palette): string {
  const steps = results.reduce((sum, result) => sum + result.steps.length, 0);
  const played = `${count(results.length, 'walk')}, ${count(steps, 'step')}`;
  const failed = results.filter((result) => !result.passed);
  if (failed.length === 0) return palette.good(`${played}: all as expected`);
  const names = failed.map((result) => `  ${palette.bad('✗')} ${printable(result.walk.name)}`);
  return [palette.bad(`${played}: ${count(failed.length, 'walk')} not as expected`), ...names].join('\n');
}

const WAY_HEADING = 'the way, each request with its status — why (deciding line)';

/** The width that nine in ten steps fit into, within a limit: a few long ones must not push all the rest aside. */
function commonWidth(widths: readonly number[], most: number): number {
  const fitting = [...widths].sort((a, b) => a - b);
  const common = fitting[Math.ceil(fitting.length * 0.9) - 1] ?? 0;
  return Math.max(4, ...fitting.filter((width) => width <= Math.min(common, most)));
}

/** Something that is wrong, or what to do about it. */
type Said = string | { readonly more: string };

/** Lays walks out in the same columns: time, who asked for what, whom the app saw, the way and why. */
class Sheet {
  private readonly timeWidth: number;
  private readonly stepWidth: number;
  private readonly seenWidth: number;

  constructor(
    results: readonly WalkResult[],
    private readonly policy: YamlText,
    private readonly palette: Palette,
    private readonly look: WalksLook,
  ) {
    const steps = results.flatMap((result) => result.steps);
    const widest = (texts: readonly string[]) => Math.max(0, ...texts.map(widthOf));
    this.timeWidth = Math.max(4, widest(steps.map((step) => formatDuration(step.time))));
    this.stepWidth = commonWidth(
      steps.map((step) => widthOf(askedWords(step))),
      Math.floor(look.width * 0.36),
    );
    this.seenWidth = Math.max(7, Math.min(widest(steps.map(seenWords)), 16));
  }

  /** The names of the columns. */
  heading(): string {
    const { timeWidth, stepWidth, seenWidth } = this;
    const names = `  ${'time'.padStart(timeWidth)}  ${'step'.padEnd(stepWidth)}  ${'seen as'.padEnd(seenWidth)}  `;
    const way = flow(WAY_HEADING.split(' '), this.look.width - names.length, ' ');
    const lines = way.map((line, at) => (at === 0 ? names : ' '.repeat(names.length)) + line);
    return lines.map((line) => this.palette.quiet(line)).join('\n');
  }

  /** A walk without its steps. */
  line(result: WalkResult): string {
    return this.head(result);
  }

  walk(result: WalkResult): string {
    return [this.head(result), ...result.steps.flatMap((step) => this.step(step, result.walk))].join('\n');
  }

  private head(result: WalkResult): string {
    const { palette } = this;
    const { input, at, name } = result.walk;
    const { line } = positionOf(input.source, input.placeOf(at).start);
    const place = `${printable(input.source.file)}:${line}`;
    const mark = result.passed ? palette.good('✓') : palette.bad('✗');
    const title = printable(name);
    const gap = this.look.width - widthOf(title) - widthOf(place) - 2;
    const head = gap >= 2 ? `${palette.strong(title)}${' '.repeat(gap)}` : `${palette.strong(title)}\n  `;
    return `${mark} ${head}${palette.quiet(linked(place, input.source.file, line, this.look))}`;
  }

  /** @param walk where it is written; null for a step that was only typed */
  step(result: StepResult, walk: Walk | null): string[] {
    const time = this.palette.quiet(formatDuration(result.time).padStart(this.timeWidth));
    const asked = askedWords(result);
    const seen = this.palette.person(padTo(seenWords(result), this.seenWidth));
    const before = 4 + this.timeWidth;
    const margin = before + this.stepWidth + 2 + this.seenWidth + 2;
    const way = flow(wayParts(result, this.policy), Math.max(20, this.look.width - margin), ' ');
    const [first = '', ...more] = way.map((line) => this.tint(line));
    // A step too long for its column has a line to itself.
    const fits = widthOf(asked) <= this.stepWidth;
    const lines = [
      ...(fits
        ? []
        : flow(asked.split(' '), this.look.width - before, ' ').map((line, at) =>
            at === 0 ? `  ${time}  ${line}` : ' '.repeat(before) + line,
          )),
      `${fits ? `  ${time}  ${padTo(asked, this.stepWidth)}` : ' '.repeat(before + this.stepWidth)}  ${seen}  ${first}`,
      ...more.map((line) => ' '.repeat(margin) + line),
    ];
    const { verbose } = this.look;
    const messages =
      verbose === null ? [] : messagesText(result, verbose, this.policy, this.palette, this.look);
    return [
      ...lines.map((line) => line.trimEnd()),
      ...messages,
      ...this.problems(result, walk, ' '.repeat(before)),
    ];
  }

  private problems(result: StepResult, walk: Walk | null, indent: string): string[] {
    const place = walk?.input.placeOf(result.step.at);
    const where = place === undefined ? '' : `line ${positionOf(place.source, place.start).line} `;
    const problems: Said[] = [
      ...result.differences.map((each) => `${where}${differenceWords(each)}`),
      ...result.broken
        .filter(({ weight }) => weight === 'law')
        .flatMap((breach) => [
          this.breach(breach),
          { more: `to mend it: ${breach.mend}` },
          { more: `to own up to it: ${breach.own}` },
        ]),
      ...(result.impossible === null ? [] : [`${where}cannot be played: ${result.impossible}`]),
    ];
    const advice = result.broken
      .filter(({ weight }) => weight === 'advice')
      .flatMap((breach) => [this.breach(breach), { more: `to mend it: ${breach.mend}` }]);
    const lines = (texts: readonly Said[], mark: string, tint: (text: string) => string) =>
      texts.flatMap((each) => {
        const text = typeof each === 'string' ? each : each.more;
        const own = typeof each === 'string' ? tint : this.palette.quiet;
        const start = typeof each === 'string' ? mark : ' ';
        return flow(printable(text).split(' '), this.look.width - indent.length - 2, ' ').map(
          (part, at) => `${indent}${own(`${at === 0 ? start : ' '} ${part}`)}`,
        );
      });
    return [...lines(problems, '✗', this.palette.bad), ...lines(advice, '·', this.palette.careless)];
  }

  /** A broken law, with the line of the policy that allows it. */
  private breach({ law, weight, seen, allowedBy }: StepResult['broken'][number]): string {
    const { line } = positionOf(this.policy.source, this.policy.placeOf(allowedBy).start);
    const where = allowedBy.length === 0 ? '' : ` (line ${line} of the policy)`;
    return `${weight === 'advice' ? 'advice' : 'breaks'} ${law}: ${seen}${where}`;
  }

  /** The reason stands last, after a dash, and is what a reader looks for where it is not the usual one. */
  private tint(line: string): string {
    const at = line.lastIndexOf('— ');
    if (at < 0) return line;
    const why = line.slice(at);
    return line.slice(0, at) + (why === '— served' ? this.palette.quiet(why) : this.palette.careless(why));
  }
}

function askedWords(result: StepResult): string {
  const { browser, named } = result.step;
  const place = browser === 'browser' ? '' : `${browser}: `;
  return printable(place + actionWords(result.step) + (named === null ? '' : ` (${named})`));
}

function seenWords(result: StepResult): string {
  const { seenAs, actedBy } = result.outcome;
  if (seenAs !== null) return printable(actedBy === null ? seenAs : `${seenAs} by ${actedBy}`);
  return isPause(result.step.action) ? '' : '–';
}

const MOST_HOPS = 8;

/** The way in parts that a line may break between: hops with their arrows, where a call was made from, and why. */
function wayParts(result: StepResult, policy: YamlText): string[] {
  const hops = hopsOf(result);
  const all = hops.map(({ text, sendsOn }, at) => {
    const joint = at === hops.length - 1 ? '' : sendsOn ? ' →' : ' ·';
    return printable(text) + joint;
  });
  // Nobody reads a circle of redirects to its end.
  const left = all.length - MOST_HOPS;
  const parts = left <= 1 ? all : [...all.slice(0, MOST_HOPS - 2), `… ${left} more →`, ...all.slice(-2)];
  const { outcome, played } = result;
  const last = played.exchanges.at(-1);
  if (last?.purpose === 'call') parts.push(printable(`(on ${outcome.lands ?? 'no page'})`));
  if (played.cutShort === 'off-origin') parts.push(printable(`→ ${outcome.lands ?? 'another site'}`));
  const named = outcome.barrier === null ? '' : ` ${printable(outcome.barrier)}`;
  if (outcome.why !== null) parts.push(`— ${outcome.why}${named}${decidingLine(result, policy)}`);
  return parts;
}

/** The line of the policy that decided, for whatever was not simply served. */
function decidingLine(result: StepResult, policy: YamlText): string {
  const { decidedBy, why } = result.outcome;
  if (decidedBy === null || decidedBy.length === 0 || why === 'served') return '';
  return ` (line ${positionOf(policy.source, policy.placeOf(decidedBy).start).line})`;
}
