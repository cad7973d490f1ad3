import { positionOf, WATCHERS, type Doubted, type Watcher, type YamlText } from '../../core/internal.js';
import { flow } from '../columns.js';
import { folded, listed, markdownText } from '../markdown.js';
import { stepsWords } from '../proof-walk-words.js';
import { count, linked, paletteOf, printable, type Look } from '../style.js';

/** Every mistake that a policy was held against, as it was judged. */
export interface ShownDoubt {
  readonly app: string;
  readonly input: YamlText;
  readonly walks: number;
  /** Whether a table that was agreed on watched too. */
  readonly hasTable: boolean;
  /** Without those that say the same in other words. */
  readonly judged: readonly Doubted[];
  /** How many say the same. */
  readonly same: number;
  /** How many changes were not looked at, since the time was over. */
  readonly left: number;
}

/** How many mistakes somebody notices, of all that make a difference as far as that is known. */
export function scoreOf({ judged }: Pick<ShownDoubt, 'judged'>): {
  readonly noticed: number;
  readonly all: number;
} {
  return { noticed: judged.filter(({ by }) => by.length > 0).length, all: judged.length };
}

/** The score in whole percent, rounded down, so that 100 % means all. */
export function scorePercent(shown: Pick<ShownDoubt, 'judged'>): number {
  const { noticed, all } = scoreOf(shown);
  return all === 0 ? 100 : Math.floor((100 * noticed) / all);
}

function lineOf(at: Doubted['at'], input: YamlText): number {
  return positionOf(input.source, input.placeOf(at).start).line;
}

function byWords({ judged, hasTable }: ShownDoubt): string {
  const seen = (watcher: Watcher) => judged.filter(({ by }) => by.includes(watcher)).length;
  return WATCHERS.filter((watcher) => watcher !== 'grid' || hasTable)
    .map((watcher) => `${watcher} ${seen(watcher)}`)
    .join(', ');
}

/** The score, who notices how much, and what nobody does, with what it would let happen. */
export function doubtText(shown: ShownDoubt, look: Look): string {
  const palette = paletteOf(look);
  const { app, input, judged, same, left } = shown;
  const { noticed, all } = scoreOf(shown);
  const missed = judged.filter(({ by }) => by.length === 0);
  const [told, untold] = [
    missed.filter(({ shows }) => shows !== null),
    missed.filter(({ shows }) => shows === null),
  ];
  const lines = [
    `${palette.strong(printable(app))}  ${palette.quiet(printable(input.source.file))}`,
    '',
    `${noticed} of ${count(all, 'mistake')} would be noticed: ${scorePercent(shown)} %`,
    palette.quiet(`noticed by: ${byWords(shown)}`),
    ...(same === 0
      ? []
      : [
          palette.quiet(
            `${count(same, 'more change')} would say the same in other words, and ${same === 1 ? 'is' : 'are'} not counted`,
          ),
        ]),
    ...(left === 0 ? [] : [palette.careless(`${count(left, 'change')} more were not looked at in time`)]),
  ];
  const list = (title: string, these: readonly Doubted[]) => {
    if (these.length === 0) return;
    lines.push('', palette.strong(title));
    for (const each of these) lines.push(...doubtedLines(each, input, look));
  };
  list('Nobody would notice', told);
  list('Nobody would notice, and no walk was found that comes out otherwise', untold);
  return lines.map((line) => `${line.trimEnd()}\n`).join('');
}

function doubtedLines({ where, what, at, shows }: Doubted, input: YamlText, look: Look): string[] {
  const palette = paletteOf(look);
  const line = lineOf(at, input);
  const place = `line ${line}`;
  const margin = ' '.repeat(12);
  const text = (words: string, tint: (part: string) => string, first: string) =>
    flow(printable(words).split(' '), look.width - margin.length, ' ').map(
      (part, index) => (index === 0 ? first : margin) + tint(part),
    );
  const head = `  ${palette.quiet(linked(place, input.source.file, line, look))}${' '.repeat(Math.max(1, 10 - place.length))}`;
  return [
    ...text(`${where}: ${what}`, (part) => part, head),
    ...(shows === null
      ? []
      : [
          ...text(stepsWords(shows.steps), palette.quiet, margin),
          ...text(`was: ${shows.before}`, palette.quiet, margin),
          ...text(`now: ${shows.after}`, palette.careless, margin),
        ]),
  ];
}

/** The same for the comment of a review. */
export function doubtMarkdown(shown: ShownDoubt): string {
  const { app, input, judged } = shown;
  const { noticed, all } = scoreOf(shown);
  const missed = judged
    .filter(({ by }) => by.length === 0)
    .map(({ where, what, at, shows }) => {
      const how =
        shows === null
          ? ''
          : `\n  - ${markdownText(stepsWords(shows.steps))}: was ${markdownText(shows.before)}, now ${markdownText(shows.after)}`;
      return `${markdownText(`${where}: ${what}`)} (line ${lineOf(at, input)})${how}`;
    });
  return [
    `### ${noticed} of ${count(all, 'mistake')} in ${markdownText(app)} would be noticed: ${scorePercent(shown)} %`,
    '',
    `Noticed by: ${byWords(shown)}.`,
    '',
    ...folded(
      `${missed.length} that nobody would notice`,
      listed('', missed).filter((line) => line !== '****'),
    ),
  ].join('\n');
}
