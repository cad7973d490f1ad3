import { isUnasked, type Counterexample, type Verdict } from '../../core/internal.js';
import { html, type Html } from '../html.js';
import { goalWords } from '../proof-words.js';
import type { Proof } from '../proof-text.js';
import { folded } from './report-pictures.js';
import { lineLink, type ReportInput } from './report-input.js';
import { walkInside } from './report-walks.js';

/** The walks that break something, law by law. */
export function brokenWalks({ verdicts }: Pick<Proof, 'verdicts'>): Counterexample[] {
  return verdicts.flatMap(({ finding }) =>
    finding.verdict === 'broken' ? [finding.by, ...finding.also] : [],
  );
}

/** Laws and promises as sentences: what is broken first, each with its walks. */
export function lawsSection(input: ReportInput): Html {
  const { verdicts } = input.proof;
  const of = (verdict: string) =>
    verdicts.filter((each) => each.finding.verdict === verdict && !isUnasked(each));
  const broken = of('broken').map((verdict) => brokenBlock(input, verdict));
  const open = of('open').map(
    ({ goal, finding }) =>
      html`<li>
        ? <strong>${goalWords(goal)}</strong> is not settled:
        ${finding.verdict === 'open' ? finding.because : ''}
      </li>`,
  );
  const holds = of('holds').map(
    ({ goal }) =>
      html`<li>
        <span class="good">✓</span>
        ${goal.law?.holds ?? `${goalWords(goal)}.`}${goal.promise === null ? html` <span class="quiet">${goal.id}</span>` : lineLink(input, goal.promise.at)}
      </li>`,
  );
  const unasked = verdicts
    .filter(isUnasked)
    .map(({ goal }) => html`<li><span class="quiet">– not asked, no ${goal.lacks}: ${goal.id}</span></li>`);
  return html`<section id="laws" aria-labelledby="h-laws">
    <h2 id="h-laws">Laws and promises</h2>
    <p>
      Settled for every sequence of steps, every address and all waiting times, not only for the walks above.
    </p>
    ${broken}
    <ul class="laws">
      ${open}${holds}${unasked}
    </ul>
  </section>`;
}

function brokenBlock(input: ReportInput, { goal, finding }: Verdict): Html {
  if (finding.verdict !== 'broken') return html``;
  const ways = [finding.by, ...finding.also].map((way) => {
    const { steps = [], svg = '' } = input.pictures.broken.get(way) ?? {};
    return html`<p>${way.seen}.${lineLink(input, way.allowedBy)}</p>
      ${walkInside(input, steps, svg, goal.id)}`;
  });
  const mark = goal.law?.weight === 'advice' ? html`Advice:` : html`<span class="bad">✗ broken:</span>`;
  return folded(html`${mark} ${goalWords(goal)}`, html`${ways}`, true);
}
