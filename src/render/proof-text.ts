import {
  ALONE,
  formatDuration,
  isUnasked,
  lawOf,
  playWalk,
  positionOf,
  type Exposure,
  type SceneOutcome,
  type Stage,
  type Verdict,
  type Walk,
  type YamlText,
} from '../core/internal.js';
import { flow, padTo, widthOf } from './columns.js';
import { owningUp } from './owning-up.js';
import { stepsWords, walkInWords } from './proof-walk-words.js';
import { castWords, endsWords, exposureWords, goalWords, verbsOf } from './proof-words.js';
import { count, paletteOf, printable, type Look, type Palette } from './style.js';
import { plain, table } from './table.js';
import { walkBlocks } from './walks-text.js';

/** What a proof came to. */
export interface Proof {
  readonly stage: Stage;
  readonly input: YamlText;
  readonly verdicts: readonly Verdict[];
  /** The scenes that were looked at, those that were not finished among them. */
  readonly outcomes: readonly SceneOutcome[];
  /** How many scenes there are to look at. */
  readonly scenes: number;
  /** Of how many it was known before what comes of them. */
  readonly known: number;
  readonly exposures: readonly Exposure[] | null;
  readonly seconds: number;
}

export interface ProofLook extends Look {
  /** Only what is broken or not settled. */
  readonly quiet: boolean;
  /** Exposures with each step of their walk, and not in words. */
  readonly steps: boolean;
  /** Who took part in each scene, what was tried and how much there was. */
  readonly verbose: boolean;
}

/** A proof: a line for each law and promise, the walks that break them, and the exposure bounds. */
export function proofText(proof: Proof, look: ProofLook): string {
  const palette = paletteOf(look);
  const { input, stage } = proof;
  const title = `${palette.strong(printable(stage.app.policy.app))}  ${palette.quiet(printable(input.source.file))}`;
  const laws = proof.verdicts.filter(({ goal }) => goal.law !== null);
  const promises = proof.verdicts.filter(({ goal }) => goal.law === null);
  const blocks = [
    title,
    section('Laws', verdictLines(laws, proof, palette, look), palette),
    section('Promises', verdictLines(promises, proof, palette, look), palette),
    counterexamples(proof, look, palette),
    look.quiet ? '' : exposures(proof, look, palette),
    look.verbose ? scope(proof, look, palette) : '',
    summary(proof, look, palette),
  ];
  return blocks
    .filter((block) => block !== '')
    .map((block) => `${block}\n`)
    .join('\n');
}

function section(heading: string, lines: readonly string[], palette: Palette): string {
  return lines.length === 0 ? '' : [palette.strong(heading), ...lines].join('\n');
}

const MARKS = { holds: '✓', broken: '✗', open: '?' } as const;

function verdictLines(
  verdicts: readonly Verdict[],
  proof: Proof,
  palette: Palette,
  look: ProofLook,
): string[] {
  const shown = verdicts.filter(({ finding }) => !look.quiet || finding.verdict !== 'holds');
  const nameWidth = Math.min(
    Math.max(0, ...shown.map(({ goal }) => widthOf(goalWords(goal)))),
    Math.floor(look.width * 0.6),
  );
  return shown.flatMap((verdict) => {
    const { goal, finding } = verdict;
    const tint = tintOf(verdict, palette);
    const names = flow(printable(goalWords(goal)).split(' '), nameWidth, ' ');
    const place = goal.promise === null ? '' : ` ${lineOf(proof.input, goal.promise.at)}`;
    const said = flow(
      `${saidOf(verdict, proof.verdicts)}${place}`.split(' '),
      Math.max(16, look.width - nameWidth - 6),
      ' ',
    );
    const lines = Math.max(names.length, said.length);
    return Array.from({ length: lines }, (_, at) => {
      const mark = at === 0 ? tint(isUnasked(verdict) ? '–' : MARKS[finding.verdict]) : ' ';
      const text = said[at] ?? '';
      return `  ${mark} ${padTo(names[at] ?? '', nameWidth)}  ${finding.verdict === 'holds' ? palette.quiet(text) : text}`.trimEnd();
    });
  });
}

function tintOf(verdict: Verdict, palette: Palette): (text: string) => string {
  const { goal, finding } = verdict;
  if (isUnasked(verdict)) return palette.quiet;
  if (finding.verdict === 'holds') return palette.good;
  return finding.verdict === 'broken' && goal.law?.weight !== 'advice' ? palette.bad : palette.careless;
}

function saidOf(verdict: Verdict, all: readonly Verdict[]): string {
  const { finding, cast, goal } = verdict;
  if (isUnasked(verdict)) return `not asked: no ${goal.lacks ?? ''}`;
  if (finding.verdict === 'holds') return goal.law?.holds ?? 'holds';
  if (finding.verdict === 'open') return printable(`not settled: ${finding.because}`);
  const { moves, seconds, seen } = finding.by;
  const kind = goal.law?.weight === 'advice' ? 'advice, seen in' : 'broken in';
  const wait = seconds === 0 ? '' : ` and ${formatDuration(seconds)} of waiting`;
  const law = lawWithWalkOf(verdict, all);
  const by = law === null ? castWords(cast ?? ALONE) : `the walk of ${law}`;
  const more = waysWords(finding.also.length, finding.others.length);
  const sentence = law === null ? `${seen}; ` : '';
  return printable(`${sentence}${kind} ${count(moves, 'step')}${wait}, by ${by}${more}`);
}

/** How many more ways in which a law is broken are shown, and how many may be there beside them. */
function waysWords(also: number, others: number): string {
  const shown = also === 0 ? '' : `; ${also} more ${also === 1 ? 'way is' : 'ways are'} shown below`;
  return others === 0 ? shown : `${shown}, and up to ${others} others are not`;
}

/** The law that stands for a promise in walks, where the same walk breaks it; null for none. */
function lawWithWalkOf({ goal, finding }: Verdict, all: readonly Verdict[]): string | null {
  if (goal.law !== null || finding.verdict !== 'broken') return null;
  const own = lawOf(goal);
  const law = all.find((each) => each.goal.law?.name === own)?.finding;
  if (law?.verdict !== 'broken') return null;
  return JSON.stringify(law.by.steps) === JSON.stringify(finding.by.steps) ? own : null;
}

function lineOf(input: YamlText, at: readonly (string | number)[]): string {
  return `(line ${positionOf(input.source, input.placeOf(at).start).line})`;
}

/** The walks that break something, step by step, each at the place of the policy that allows it. */
function counterexamples(proof: Proof, look: ProofLook, palette: Palette): string {
  const results = proof.verdicts.flatMap((verdict) => {
    const { goal, finding } = verdict;
    if (finding.verdict !== 'broken' || lawWithWalkOf(verdict, proof.verdicts) !== null) return [];
    return [finding.by, ...finding.also].map(({ steps, allowedBy, seen }) => {
      const name = goal.law === null ? `${goalWords(goal)}: ${seen}` : goal.id;
      const owned = owningUp(proof.stage, steps);
      const walk: Walk = { name, input: proof.input, at: allowedBy, steps: owned, expectBroken: [] };
      return { ...playWalk(proof.stage, walk), passed: false };
    });
  });
  if (results.length === 0) return '';
  return [palette.strong('The shortest walks that break them'), walkBlocks(results, proof.input, look)].join(
    '\n\n',
  );
}

/** How long everything that was got can still open something, with the walk that shows it. */
function exposures({ exposures: all }: Proof, look: ProofLook, palette: Palette): string {
  if (all === null || all.length === 0) return '';
  const widths = all.map((each) => widthOf(headOf(each)));
  const width = Math.max(...widths);
  const timeWidth = Math.max(...all.map((each) => widthOf(endsWords(each))));
  const lines = all.flatMap((each) => {
    const { what, since } = exposureWords(each);
    const words =
      each.walk === null
        ? 'opens nothing from then on'
        : `${look.steps ? stepsWords(each.walk) : walkInWords(each.walk)}${each.ends === null ? ', and so on' : ''}`;
    const said = flow(
      printable(each.ends === 0 ? 'opens nothing' : words).split(' '),
      Math.max(20, look.width - width - timeWidth - 6),
      ' ',
    );
    const time = padTo(endsWords(each), timeWidth);
    const tint = each.ends === null ? palette.careless : each.ends === 0 ? palette.good : palette.strong;
    return said.map((line, at) =>
      at === 0
        ? `  ${padTo(`${what}, after ${since}`, width)}  ${tint(time)}  ${palette.quiet(line)}`
        : `  ${' '.repeat(width + timeWidth + 4)}${palette.quiet(line)}`,
    );
  });
  const intro =
    'Exposure: for how long each can still open something, and how somebody does so a second before';
  return [palette.strong(flow(intro.split(' '), look.width, ' ').join('\n')), ...lines].join('\n');
}

function headOf(each: Exposure): string {
  const { what, since } = exposureWords(each);
  return `${what}, after ${since}`;
}

/** Who took part and what was tried. */
function scope(proof: Proof, look: ProofLook, palette: Palette): string {
  const { outcomes } = proof;
  const rows = outcomes.map(({ cast, states, transitions, isInterrupted }) =>
    [castWords(cast), String(states), String(transitions), isInterrupted ? 'not finished' : ''].map((text) =>
      plain(printable(text)),
    ),
  );
  const most = (of: (outcome: SceneOutcome) => number) => Math.max(0, ...outcomes.map(of));
  const words =
    `Every sequence of ${verbsOf(outcomes).join(', ')}, with waits of any length between. All addresses, unlisted ones too, are of ` +
    `${count(
      most(({ addresses }) => addresses),
      'kind',
    )}; requests to them are answered in ${most(({ requests }) => requests)} ways.`;
  return [
    palette.strong('Scenes'),
    ...table(['scene', 'states', 'transitions', ''], rows, look.width - 2, palette.quiet).map((line) =>
      `  ${line}`.trimEnd(),
    ),
    ...flow(printable(words).split(' '), look.width - 2, ' ').map((line) => `  ${palette.quiet(line)}`),
  ].join('\n');
}

function summary(
  { verdicts, outcomes, scenes, known, seconds }: Proof,
  { verbose }: ProofLook,
  palette: Palette,
): string {
  const told = verdicts.filter(({ goal }) => goal.law?.weight !== 'advice');
  const asked = told.filter((each) => !isUnasked(each));
  const of = (verdict: string) => asked.filter(({ finding }) => finding.verdict === verdict).length;
  const [holds, broken, open] = [of('holds'), of('broken'), of('open')];
  const unasked = told.length - asked.length;
  const states = outcomes.reduce((sum, outcome) => sum + outcome.states, 0);
  const transitions = outcomes.reduce((sum, outcome) => sum + outcome.transitions, 0);
  const parts = [
    `${holds} hold`,
    ...(broken > 0 ? [`${broken} broken`] : []),
    ...(open > 0 ? [`${open} not settled`] : []),
    ...(unasked > 0 ? [`${unasked} not asked`] : []),
  ];
  const before = known === 0 ? '' : `${known === scenes ? 'all' : known} of them known before, `;
  const counts = verbose ? `${count(states, 'state')} and ${count(transitions, 'transition')} in ` : '';
  const work = `${counts}${outcomes.length} of ${count(scenes, 'scene')}, ${before}${seconds.toFixed(1)} s`;
  const tint = broken > 0 ? palette.bad : open > 0 ? palette.careless : palette.good;
  return `${tint(parts.join(', '))}  ${palette.quiet(work)}`;
}
