import { differenceWords, isUnasked, type Diagnostic, type StepResult } from '../core/internal.js';
import { where } from './diagnostics-text.js';
import { folded, listed, markdownText } from './markdown.js';
import type { Proof } from './proof-text.js';
import { castWords, endsWords, exposureWords, goalWords } from './proof-words.js';
import { stepsWords, walkInWords } from './proof-walk-words.js';
import { actionWords } from './step-words.js';
import { count } from './style.js';
import type { PlayedWalks } from './walks-text.js';

// Results for the comment of a review: what is wrong is seen, the rest is folded.

/** What check found. */
export function findingsMarkdown(findings: readonly Diagnostic[], read: string): string {
  const of = (severity: Diagnostic['severity']) =>
    findings.filter((finding) => finding.severity === severity).map(findingLines);
  const [errors, warnings, advice] = [of('error'), of('warning'), of('advice')];
  const sum = [count(errors.length, 'error'), count(warnings.length, 'warning')].join(', ');
  return [
    `### ${findings.length === 0 ? 'Nothing to report' : `Check: ${sum}`}`,
    '',
    ...(read === '' ? [] : [markdownText(read), '']),
    ...listed('Errors', errors),
    ...listed('Warnings', warnings),
    ...folded(`${advice.length} of advice`, listed('Advice', advice)),
  ].join('\n');
}

function findingLines({ code, message, place, hint }: Diagnostic): string {
  const at = place === null ? '' : ` (${markdownText(where(place))})`;
  const mend = hint === null ? '' : `\n  - to mend it: ${markdownText(hint)}`;
  return `**${markdownText(code)}**${at}: ${markdownText(message)}${mend}`;
}

/** Walks as played. */
export function walksMarkdown({ results, app }: PlayedWalks): string {
  const failed = results.filter(({ passed }) => !passed);
  const name = (walk: (typeof results)[number]) => markdownText(walk.walk.name);
  return [
    failed.length === 0
      ? `### All ${count(results.length, 'walk')} of ${markdownText(app)} passed`
      : `### ${failed.length} of ${count(results.length, 'walk')} of ${markdownText(app)} failed`,
    '',
    ...failed.flatMap((walk) => listed(name(walk), walk.steps.flatMap(stepLines))),
    ...folded(
      `${results.length - failed.length} passed`,
      results.filter(({ passed }) => passed).map((walk) => `- ${name(walk)}`),
    ),
  ].join('\n');
}

function stepLines({ step, differences, broken, impossible }: StepResult): string[] {
  const told = [
    ...differences.map(differenceWords),
    ...broken.flatMap(({ law, weight, seen }) => (weight === 'law' ? [`breaks ${law}: ${seen}`] : [])),
    ...(impossible === null ? [] : [`cannot be played: ${impossible}`]),
  ];
  return told.map((each) => `${markdownText(actionWords(step))}: ${markdownText(each)}`);
}

/** What was proved. */
export function proofMarkdown({ verdicts, exposures, stage }: Proof): string {
  const of = (verdict: string) =>
    verdicts.filter((each) => each.finding.verdict === verdict && !isUnasked(each));
  const isAdvice = (weight: string | undefined) => weight === 'advice';
  const [holds, broken, open] = [of('holds'), of('broken'), of('open')];
  const unasked = verdicts.filter((each) => isUnasked(each) && !isAdvice(each.goal.law?.weight));
  const laws = broken.filter(({ goal }) => !isAdvice(goal.law?.weight));
  const sum = [
    `${holds.filter(({ goal }) => !isAdvice(goal.law?.weight)).length} hold`,
    ...(laws.length > 0 ? [`${laws.length} broken`] : []),
    ...(open.length > 0 ? [`${open.length} not settled`] : []),
    ...(unasked.length > 0 ? [`${unasked.length} not asked`] : []),
  ];
  const brokenLines = (all: typeof broken) =>
    all.flatMap(({ goal, finding, cast }) =>
      finding.verdict !== 'broken'
        ? []
        : [
            [
              `**${markdownText(goalWords(goal))}**: ${markdownText(finding.by.seen)}`,
              `  - ${markdownText(`${stepsWords(finding.by.steps)}${cast === null ? '' : ` (${castWords(cast)})`}`)}`,
            ].join('\n'),
          ],
    );
  const bounds = (exposures ?? []).map((each) => {
    const { what, since } = exposureWords(each);
    const how = each.walk === null || each.ends === 0 ? '' : walkInWords(each.walk);
    return `| ${[`${what}, after ${since}`, endsWords(each), how].map(markdownText).join(' | ')} |`;
  });
  return [
    `### ${markdownText(stage.app.policy.app)}: ${sum.join(', ')}`,
    '',
    ...listed('Broken', brokenLines(laws)),
    ...listed('Advice', brokenLines(broken.filter(({ goal }) => isAdvice(goal.law?.weight)))),
    ...listed(
      'Not settled',
      open.map(({ goal, finding }) =>
        markdownText(`${goalWords(goal)}: ${finding.verdict === 'open' ? finding.because : ''}`),
      ),
    ),
    ...folded(
      `${holds.length} hold`,
      holds.map(
        ({ goal }) => `- **${markdownText(goalWords(goal))}** ${markdownText(goal.law?.holds ?? '')}`,
      ),
    ),
    ...folded(
      `${unasked.length} not asked`,
      unasked.map(
        ({ goal }) => `- **${markdownText(goalWords(goal))}** ${markdownText(`no ${goal.lacks ?? ''}`)}`,
      ),
    ),
    ...folded(
      'For how long each can still open something',
      bounds.length === 0 ? [] : ['| what | how long | how |', '| --- | --- | --- |', ...bounds],
    ),
  ].join('\n');
}
