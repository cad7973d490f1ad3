import { formatDuration, isUnasked, type Exposure } from '../../core/internal.js';
import { html, type Html } from '../html.js';
import { endsWords, exposureWords, goalWords } from '../proof-words.js';
import { count } from '../style.js';
import { lineLink, type ReportInput } from './report-input.js';

/** What is wrong, first and in plain sentences; then what holds, and what follows from it. */
export function verdictSection(input: ReportInput): Html {
  const { proof, findings, walks, live } = input;
  const isLaw = (weight: string | undefined) => weight !== 'advice';
  const verdicts = proof.verdicts.filter((each) => isLaw(each.goal.law?.weight) && !isUnasked(each));
  const broken = verdicts.filter(({ finding }) => finding.verdict === 'broken');
  const open = verdicts.filter(({ finding }) => finding.verdict === 'open');
  const serious = findings.filter(({ severity }) => severity !== 'advice');
  const of = (severity: string) => findings.filter((finding) => finding.severity === severity).length;
  const failed = walks.filter(({ passed }) => !passed);
  const wrong = [
    ...broken.map(({ goal, finding }) => {
      const seen = finding.verdict === 'broken' ? finding.by.seen : '';
      return html`<a href="#laws">${goalWords(goal)}</a> is broken: ${seen}.`;
    }),
    ...serious.map(({ code, message }) => html`<a href="#findings">${code}</a>: ${message}.`),
    ...failed.map(
      ({ walk }) => html`The walk <a href="#walks">${walk.name}</a> does not come out as it says.`,
    ),
    ...(live?.findings ?? [])
      .filter(({ accepted }) => accepted === null)
      .map(({ title }) => html`The running app <a href="#uncovered">differs</a>: ${title}.`),
  ];
  const holds = verdicts.length - broken.length - open.length;
  const headline =
    wrong.length > 0
      ? html`<p class="headline bad">
          ${count(wrong.length, 'thing')} ${wrong.length === 1 ? 'is' : 'are'} wrong.
        </p>`
      : open.length > 0
        ? html`<p class="headline careful">
            Nothing wrong was found, but ${count(open.length, 'question')} could not be settled.
          </p>`
        : html`<p class="headline good">Nothing wrong was found.</p>`;
  const facts = [
    html`${holds} of ${count(verdicts.length, 'law')} and promises hold for every sequence of steps, every
    address and all waiting times.`,
    html`${walks.length - failed.length} of ${count(walks.length, 'walk')} come out as they say.`,
    html`The check of the policy finds ${count(of('error'), 'error')}, ${count(of('warning'), 'warning')} and
    ${count(of('advice'), 'piece')} of advice.`,
    ...open.map(({ goal, finding }) => {
      const because = finding.verdict === 'open' ? finding.because : '';
      return html`${goalWords(goal)} is not settled: ${because}.`;
    }),
  ];
  return html`<section id="verdict" aria-labelledby="h-verdict">
    <h2 id="h-verdict">The verdict</h2>
    ${headline}
    ${
      wrong.length === 0
        ? null
        : html`<ol class="wrong">
            ${wrong.map((each) => html`<li>${each}</li>`)}
          </ol>`
    }
    <ul>
      ${facts.map((each) => html`<li>${each}</li>`)}
    </ul>
    <h3>In short</h3>
    <ul class="short">
      ${inShort(input).map((each) => html`<li>${each}</li>`)}
    </ul>
  </section>`;
}

/** What somebody asks who signs this off: what happens after some time away, and what a stolen cookie is worth. */
function inShort(input: ReportInput): Html[] {
  const { policy } = input.proof.stage.app;
  const { session, remember, tokens } = policy;
  const said: Html[] = [];
  if (policy.logins.some(({ by }) => by !== 'tokens')) {
    said.push(
      session.idle === null
        ? html`A session does not end by being away.${lineLink(input, ['session'])}`
        : html`A session ends after
            <strong>${formatDuration(session.idle)}</strong> away.${lineLink(input, ['session', 'idle'])}`,
      session.absolute === null
        ? html`A session does not end as long as it is used.${lineLink(input, ['session'])}`
        : html`A session ends after <strong>${formatDuration(session.absolute)}</strong>, however much it is
            used.${lineLink(input, ['session', 'absolute'])}`,
      ...session['by-role'].map(({ role, idle, absolute, at }) => {
        const ends = [
          ...(idle === null ? [] : [`after ${formatDuration(idle)} away`]),
          ...(absolute === null ? [] : [`after ${formatDuration(absolute)} of use`]),
        ];
        return html`That of whoever is ${role} ends
          <strong>${ends.join(' and ')}</strong>.${lineLink(input, at)}`;
      }),
    );
  }
  if (tokens?.refresh) {
    const { life, longest } = tokens.refresh;
    said.push(
      html`A page that is left open renews its tokens unless it rests for
        <strong>${formatDuration(life)}</strong
        >${longest === null ? ', without a last time' : html`, for <strong>${formatDuration(longest)}</strong> at the longest`}.${lineLink(input, tokens.at)}`,
    );
  }
  if (remember !== null) {
    said.push(
      html`Whoever asks to be remembered is known again for <strong>${formatDuration(remember.life)}</strong>,
        also after the browser was closed.${lineLink(input, remember.at)}`,
    );
  }
  if (policy.apiKeys !== null) {
    const { life } = policy.apiKeys;
    said.push(
      html`The key of a machine counts
      ${life === null ? html`<strong>without limit</strong>` : html`for <strong>${formatDuration(life)}</strong>`}.${lineLink(input, policy.apiKeys.at)}`,
    );
  }
  return [...said, ...stolen(input.proof.exposures ?? [])];
}

const WORTH = ['session', 'access', 'refresh', 'remember'] as const;

function stolen(exposures: readonly Exposure[]): Html[] {
  return WORTH.flatMap((credential) => {
    const find = (event: Exposure['event']) =>
      exposures.find((each) => each.credential === credential && each.event === event);
    const [copied, logout, suspended] = [find('copied'), find('logout'), find('suspended')];
    if (copied === undefined) return [];
    const { what } = exposureWords(copied);
    const after = (bound: Exposure | undefined, words: string): string[] => {
      if (bound === undefined) return [];
      return [
        bound.ends === 0
          ? `is worth nothing once ${words}`
          : bound.ends === null
            ? `goes on being good after ${words}`
            : `still opens something for ${endsWords(bound)} after ${words}`,
      ];
    };
    const more = [...after(logout, 'its owner logged out'), ...after(suspended, 'the account is suspended')];
    return [
      html`A stolen ${what} can be used
      ${copied.ends === null ? html`<strong>without limit</strong>` : html`for <strong>${endsWords(copied)}</strong>`};
      it ${more.join(', and ')}.`,
    ];
  });
}
