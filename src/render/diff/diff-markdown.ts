import { worstOf } from '../../core/internal.js';
import { folded, listed, markdownText } from '../markdown.js';
import { stepsWords } from '../proof-walk-words.js';
import {
  ACCESS_KINDS,
  accessLines,
  boundWords,
  oneSidedWords,
  settingWords,
  totals,
  verdictsWithWalks,
  verdictWords,
  type Compared,
} from './diff-words.js';

const WORST = {
  widened: 'Access is widened',
  loosened: 'Something is loosened',
  changed: 'Nothing is widened or loosened',
  same: 'No change',
} as const;

/** What a change of policy means, for the comment of a review: what is wider or looser is seen, the rest is folded. */
export function diffMarkdown(compared: Compared): string {
  const { names, inputs, diff, outcome } = compared;
  const texts = (lines: readonly string[]) => lines.map(markdownText);
  const directed = (kind: string) => [
    ...diff.settings.filter(({ direction }) => direction === kind).map((each) => settingWords(each, inputs)),
    ...(outcome.bounds ?? []).filter(({ direction }) => direction === kind).map(boundWords),
  ];
  const verdicts = verdictsWithWalks(outcome).map(([change, ways]) =>
    [
      `**${markdownText(verdictWords(change))}**`,
      ...ways.map(({ seen, steps }) => `  - ${markdownText(`${seen}: ${stepsWords(steps)}`)}`),
    ].join('\n'),
  );
  const access = (kind: string) => accessLines(diff.changes.filter((each) => each.kind === kind));
  const [[, widened]] = ACCESS_KINDS;
  const rest = [
    ...ACCESS_KINDS.slice(1).flatMap(([kind, words]) => listed(words, texts(access(kind)))),
    ...listed('Tightened', texts(directed('tightens'))),
    ...listed('Changed', texts(directed('changes'))),
    ...listed(markdownText(`Only in ${names.before}`), texts(diff.onlyBefore.map(oneSidedWords))),
    ...listed(markdownText(`Only in ${names.after}`), texts(diff.onlyAfter.map(oneSidedWords))),
    ...listed(
      'Findings that are gone',
      texts(outcome.gone.map(({ code, message }) => `${code}: ${message}`)),
    ),
  ];
  const said = totals(compared);
  return [
    `### ${WORST[worstOf(diff, outcome)]}`,
    '',
    ...(said === '' ? [] : [markdownText(said), '']),
    ...listed(widened, texts(access('widened'))),
    ...listed('Loosened', texts(directed('loosens'))),
    ...listed('Laws and promises', verdicts),
    ...listed('New findings', texts(outcome.found.map(({ code, message }) => `${code}: ${message}`))),
    ...folded('Everything else', rest),
  ].join('\n');
}
