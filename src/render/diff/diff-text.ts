import type { Direction, SettingChange, VerdictChange } from '../../core/internal.js';
import { flow, padTo, widthOf } from '../columns.js';
import { stepsWords } from '../proof-walk-words.js';
import { count, paletteOf, printable, type Look, type Palette } from '../style.js';
import {
  ACCESS_KINDS,
  accessLines,
  boundWords,
  lineOf,
  oneSidedWords,
  settingWords,
  totals,
  verdictsWithWalks,
  verdictWords,
  type Compared,
} from './diff-words.js';

type Tint = (text: string) => string;

/** What changed for whom and what else a change of policy means, in words: first what was widened or loosened. */
export function diffText(compared: Compared, look: Look): string {
  const { app, names, diff, outcome, inputs } = compared;
  const palette = paletteOf(look);
  const title = `${palette.strong(printable(app))}  ${palette.quiet(printable(`${names.before} → ${names.after}`))}`;
  const access = ACCESS_KINDS.map(([kind, words]) => {
    const changes = diff.changes.filter((change) => change.kind === kind);
    const tint = kind === 'widened' ? palette.bad : kind === 'narrowed' ? palette.careless : palette.strong;
    return section(words, accessLines(changes), look, tint);
  });
  const left = [
    section(`Only in ${names.before}`, diff.onlyBefore.map(oneSidedWords), look, palette.strong),
    section(`Only in ${names.after}`, diff.onlyAfter.map(oneSidedWords), look, palette.strong),
  ];
  const settings = section(
    'Settings',
    [...diff.settings]
      .sort((a, b) => ORDER.indexOf(a.direction) - ORDER.indexOf(b.direction))
      .map((change: SettingChange) => [change.direction, settingWords(change, inputs)] as const),
    look,
    palette.strong,
  );
  const verdicts = section(
    'Laws and promises',
    verdictsWithWalks(outcome).flatMap(([change, ways]) => verdictLines(change, ways, compared)),
    look,
    palette.strong,
  );
  const bounds = section(
    'Exposure: for how long each can still open something',
    (outcome.bounds ?? []).map((change) => [change.direction, boundWords(change)] as const),
    look,
    palette.strong,
  );
  const findings = section(
    'Findings of check',
    [
      ...outcome.found.map(({ code, message }) => ['new', `${code}: ${message}`] as const),
      ...outcome.gone.map(({ code, message }) => ['gone', `${code}: ${message}`] as const),
    ],
    look,
    palette.strong,
  );
  const blocks = [
    title,
    ...access,
    ...left,
    settings,
    verdicts,
    bounds,
    findings,
    summary(compared, look, palette),
  ];
  return blocks
    .filter((block) => block !== '')
    .map((block) => `${block}\n`)
    .join('\n');
}

const ORDER: readonly Direction[] = ['loosens', 'tightens', 'changes'];

/** A heading with its lines, each perhaps with a word before it; nothing where there are no lines. */
function section(
  heading: string,
  lines: readonly (string | readonly [word: string, line: string])[],
  look: Look,
  tint: Tint,
): string {
  if (lines.length === 0) return '';
  const palette = paletteOf(look);
  const width = Math.max(0, ...lines.map((line) => (typeof line === 'string' ? 0 : widthOf(line[0]) + 2)));
  return [
    tint(printable(heading)),
    ...lines.flatMap((line) => {
      const [word, said] = typeof line === 'string' ? ['', line] : line;
      return flow(printable(said).split(' '), look.width - width - 2, ' ').map((part, at) => {
        const before = padTo(at === 0 ? word : '', width);
        return `  ${tintOf(word, palette)(before)}${part}`;
      });
    }),
  ].join('\n');
}

function tintOf(word: string, palette: Palette): Tint {
  if (word === 'loosens' || word === 'new') return palette.bad;
  return word === 'tightens' || word === 'gone' ? palette.good : palette.quiet;
}

function verdictLines(
  change: VerdictChange,
  ways: VerdictChange['ways'],
  { inputs }: Compared,
): (readonly [string, string])[] {
  return [
    [change.direction, verdictWords(change)],
    ...ways.map(({ steps, seen, allowedBy }) => {
      const line = allowedBy.length === 0 ? '' : ` (line ${lineOf(allowedBy, inputs.after)})`;
      return ['', `${seen}${line}: ${stepsWords(steps)}`] as const;
    }),
  ];
}

function summary(compared: Compared, { width }: Look, palette: Palette): string {
  const said = totals(compared);
  const { diff, outcome } = compared;
  const proved = outcome.verdicts === null ? 'laws and promises not compared' : 'every law and promise';
  const scope = palette.quiet(`looked at ${count(diff.compared, 'cell')}, every setting, ${proved}`);
  if (said === '') return `${palette.good('no change')}  ${scope}`;
  return [...flow(said.split(' '), width, ' ').map(palette.bad), scope].join('\n');
}
