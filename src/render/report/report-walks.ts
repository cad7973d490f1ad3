import { differenceWords, formatDuration, type StepResult, type WalkResult } from '../../core/internal.js';
import { html, type Html } from '../html.js';
import { actionWords, requestWords } from '../step-words.js';
import { count } from '../style.js';
import { folded, picture } from './report-pictures.js';
import { lineLink, placeLink, type ReportInput } from './report-input.js';

/** Every walk: what failed is open, the rest opens when it is asked for. */
export function walksSection(input: ReportInput): Html {
  const { walks, pictures } = input;
  const order = walks.map((walk, at) => ({ walk, svg: pictures.walks[at] ?? '' }));
  const sorted = [...order.filter(({ walk }) => !walk.passed), ...order.filter(({ walk }) => walk.passed)];
  const none = html`<p>There are no walks beside the policy.</p>`;
  return html`<section id="walks" aria-labelledby="h-walks">
    <h2 id="h-walks">Walks</h2>
    <p>
      Each walk is a story that the policy must tell the same way: a lane for each browser, time going to the
      right, and below it for how long each browser holds a session or token that counts. Open one to see
      every message.
    </p>
    ${walks.length === 0 ? none : sorted.map(({ walk, svg }) => walkBlock(input, walk, svg))}
  </section>`;
}

function walkBlock(input: ReportInput, result: WalkResult, svg: string): Html {
  const { walk, passed } = result;
  const place = placeLink(input.proof.input.source.file, walk.input.placeOf(walk.at));
  const mark = passed ? html`<span class="good">✓</span>` : html`<span class="bad">✗ not as it says:</span>`;
  const inside = html`<p>Written at${place}.</p>
    ${walkInside(input, result.steps, svg, walk.name)}`;
  return folded(html`${mark} ${walk.name}`, inside, !passed);
}

/** A walk's lanes and messages. */
export function walkInside(
  input: ReportInput,
  steps: readonly StepResult[],
  svg: string,
  name: string,
): Html {
  const lines = steps.map((result) => stepLines(input, result));
  return html`${picture(svg, `The walk ${name}, in ${count(steps.length, 'step')}; its messages are below`)}
    <ol class="steps">
      ${lines}
    </ol>`;
}

function stepLines(input: ReportInput, result: StepResult): Html {
  const { step, time, played, differences, broken, impossible } = result;
  const who = step.browser === 'browser' ? '' : `${step.browser}: `;
  const messages = played.exchanges.map((exchange) => {
    const { response, explanation } = exchange;
    const to = response.location === null ? '' : ` → ${response.location}`;
    return html`<li>
      ${requestWords(exchange)} <strong>${response.status}</strong>${to}, seen as
      ${explanation.seenAs ?? 'guest'}: ${explanation.reason}${lineLink(input, explanation.decidedBy)}
    </li>`;
  });
  const wrong = [
    ...differences.map((each) => differenceWords(each)),
    ...broken.map(({ law, seen }) => `breaks ${law}: ${seen}`),
    ...(impossible === null ? [] : [`cannot be played: ${impossible}`]),
  ];
  return html`<li>
    <span class="time">${formatDuration(time)}</span> ${who}${actionWords(step)}
    ${wrong.map((each) => html`<p class="bad">✗ ${each}</p>`)}${
      messages.length === 0
        ? null
        : html`<ul>
            ${messages}
          </ul>`
    }
  </li> `;
}
