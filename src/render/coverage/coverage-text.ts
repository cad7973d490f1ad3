import { positionOf, type CoveredGroup, type Coverage, type YamlText } from '../../core/internal.js';
import { flow } from '../columns.js';
import { folded, listed, markdownText } from '../markdown.js';
import { count, linked, paletteOf, printable, type Look } from '../style.js';
import { plain, table } from '../table.js';

/** What walks touch of a policy, and what was proposed for the rest. */
export interface ShownCoverage {
  readonly coverage: Coverage;
  readonly app: string;
  readonly input: YamlText;
  readonly walks: number;
}

/** What no walk touches of one thing. */
export interface Untouched {
  readonly subject: string;
  /** The line of the policy; null for what it does not say anywhere. */
  readonly line: number | null;
  readonly aspects: readonly string[];
}

/** How much is touched, in whole percent; what is not whole is rounded down, so that 100 % means all. */
export function percentOf({ all, touched }: Pick<Coverage, 'all' | 'touched'>): number {
  return all === 0 ? 100 : Math.floor((100 * touched) / all);
}

/** What no walk touches of a group, each thing once. */
export function untouchedOf({ items }: CoveredGroup, input: YamlText): Untouched[] {
  const found = new Map<string, { line: number | null; aspects: string[] }>();
  for (const { subject, aspect, at, times } of items) {
    if (times > 0) continue;
    const line = at.length === 0 ? null : positionOf(input.source, input.placeOf(at).start).line;
    const known = found.get(subject) ?? { line, aspects: [] };
    found.set(subject, known);
    if (aspect !== '') known.aspects.push(aspect);
  }
  return [...found].map(([subject, each]) => ({ subject, ...each }));
}

function counts({ items }: CoveredGroup): readonly [touched: number, all: number] {
  return [items.filter(({ times }) => times > 0).length, items.length];
}

/** A table of counts, and what no walk touches with its lines. */
export function coverageText({ coverage, app, input, walks }: ShownCoverage, look: Look): string {
  const palette = paletteOf(look);
  const rows = coverage.groups.map((group) => {
    const [touched, all] = counts(group);
    const tint = touched === all ? palette.good : (text: string) => text;
    const percent = `${percentOf({ all, touched })} %`;
    return [group.group, `${touched} of ${all}`, percent].map((text) => ({ text, tint }));
  });
  const total = [
    plain('all'),
    plain(`${coverage.touched} of ${coverage.all}`),
    plain(`${percentOf(coverage)} %`),
  ];
  const lines = [
    `${palette.strong(printable(app))}  ${palette.quiet(printable(input.source.file))}`,
    '',
    ...table(
      ['what', `touched by ${count(walks, 'walk')}`.replaceAll(' ', '\u00a0'), 'share'],
      [...rows, total],
      look.width,
      palette.quiet,
    ),
  ];
  for (const group of coverage.groups) {
    const untouched = untouchedOf(group, input);
    if (untouched.length === 0) continue;
    lines.push('', palette.strong(`No walk touches: ${group.group}`));
    for (const { subject, line, aspects } of untouched) {
      lines.push(...itemLines(subject, line, aspects, input, look));
    }
  }
  return lines.map((line) => `${line.replaceAll('\u00a0', ' ').trimEnd()}\n`).join('');
}

function itemLines(
  subject: string,
  line: number | null,
  aspects: readonly string[],
  input: YamlText,
  look: Look,
): string[] {
  const palette = paletteOf(look);
  const place = line === null ? '' : `line ${line}`;
  const shown = line === null ? '' : linked(place, input.source.file, line, look);
  const text = printable(aspects.length === 0 ? subject : `${subject}: ${shortened(aspects).join('; ')}`);
  const margin = 12;
  return flow(text.split(' '), look.width - margin, ' ').map((part, at) =>
    at === 0
      ? `  ${palette.quiet(shown)}${' '.repeat(Math.max(1, margin - 2 - place.length))}${part}`
      : ' '.repeat(margin) + part,
  );
}

/** `asked for by ann, bo` for two that begin alike. */
export function shortened(aspects: readonly string[]): string[] {
  const groups = new Map<string, string[]>();
  for (const aspect of aspects) {
    const [, start = aspect, rest = ''] = /^(.* by )(.*)$/.exec(aspect) ?? [];
    groups.set(start, [...(groups.get(start) ?? []), rest]);
  }
  return [...groups].map(([start, rests]) => start + rests.join(', '));
}

/** The same for the comment of a review: counts, and what is not touched folded. */
export function coverageMarkdown({ coverage, app, input, walks }: ShownCoverage): string {
  const groups = coverage.groups.flatMap((group) => {
    const items = untouchedOf(group, input).map(({ subject, line, aspects }) => {
      const what = aspects.length === 0 ? subject : `${subject}: ${shortened(aspects).join('; ')}`;
      return `${markdownText(what)}${line === null ? '' : ` (line ${line})`}`;
    });
    return listed(group.group, items);
  });
  const rows = coverage.groups.map((group) => {
    const [touched, all] = counts(group);
    return `| ${group.group} | ${touched} of ${all} | ${percentOf({ all, touched })} % |`;
  });
  return [
    `### ${count(walks, 'walk')} of ${markdownText(app)} ${walks === 1 ? 'touches' : 'touch'} ${percentOf(coverage)} % of the policy`,
    '',
    '| what | touched | share |',
    '| --- | --- | --- |',
    ...rows,
    `| all | ${coverage.touched} of ${coverage.all} | ${percentOf(coverage)} % |`,
    '',
    ...folded(`${coverage.all - coverage.touched} that no walk touches`, groups),
  ].join('\n');
}

/** How often walks come to each line of the policy that says something they can touch, as LCOV tracefiles have it. */
export function coverageLcov({ coverage, input }: ShownCoverage): string {
  const lines = new Map<number, number>();
  for (const { at, times } of coverage.groups.flatMap(({ items }) => items)) {
    if (at.length === 0) continue;
    const { line } = positionOf(input.source, input.placeOf(at).start);
    // Of several things on a line the one that is touched least tells: then an editor shows that something is missing there.
    lines.set(line, Math.min(lines.get(line) ?? Infinity, times));
  }
  const records = [...lines].sort(([a], [b]) => a - b).map(([line, times]) => `DA:${line},${times}`);
  const hit = [...lines.values()].filter((times) => times > 0).length;
  const file = input.source.file.replace(/[\r\n]/g, ' ');
  return ['TN:', `SF:${file}`, ...records, `LF:${lines.size}`, `LH:${hit}`, 'end_of_record', ''].join('\n');
}
