import { formatDuration, isWritten } from '../../core/internal.js';
import { Html, html } from '../html.js';
import { endsWords, exposureWords } from '../proof-words.js';
import { walkInWords } from '../proof-walk-words.js';
import { lineLink, type ReportInput } from './report-input.js';
import { tableOf } from './report-table.js';

/** A picture with what it shows in words, for whoever does not see it. */
export function picture(svg: string, label: string): Html {
  const hidden = svg.replace('<svg ', '<svg aria-hidden="true" focusable="false" ');
  return html`<div class="scroll picture" tabindex="0" role="region" aria-label="${label}">
    <div role="img" aria-label="${label}">${new Html(hidden)}</div>
  </div>`;
}

/** Something that is folded until it is asked for. */
export function folded(summary: string | Html, inside: Html, isOpen = false): Html {
  return html`<details${isOpen ? html` open` : null}><summary>${summary}</summary>${inside}</details>`;
}

export function landingSection(input: ReportInput): Html {
  const rows = input.landings.map(
    ({ who, way, from, to, at }) =>
      html`<tr>
        <th scope="row">${who}</th>
        <td>${way}${from === null ? '' : ` (${from})`}</td>
        <td>${to}</td>
        <td>${at === null || isWritten(at, input.proof.input) ? lineLink(input, at) : 'by default'}</td>
      </tr>`,
  );
  const table = tableOf('Landings', ['who', 'after', 'lands at', 'said in'], rows);
  return html`<section id="landings" aria-labelledby="h-landings">
    <h2 id="h-landings">Where each role lands</h2>
    <p>
      Solid lines are ways that people take: login, sign-up, the login page again while signed in, logout.
      Dashed lines are refusals.
    </p>
    ${picture(input.pictures.landings, 'A graph from each role to the pages where it lands; the same is in the table below')}
    ${folded('The same as a table', table)}
  </section>`;
}

export function livesSection(input: ReportInput): Html {
  const limits = input.limits.map(
    ({ name, seconds, at }) =>
      html`<tr>
        <th scope="row">${name}</th>
        <td>${seconds === null ? 'no limit' : formatDuration(seconds)}</td>
        <td>${lineLink(input, at)}</td>
      </tr>`,
  );
  const exposures = (input.proof.exposures ?? []).map((each) => {
    const { what, since } = exposureWords(each);
    const how = each.walk === null || each.ends === 0 ? 'opens nothing' : walkInWords(each.walk);
    return html`<tr>
      <th scope="row">${what}, after ${since}</th>
      <td>${endsWords(each)}</td>
      <td>${how}</td>
    </tr>`;
  });
  const table = tableOf('Times', ['what', 'how long', 'where, or how'], [...limits, ...exposures]);
  return html`<section id="lives" aria-labelledby="h-lives">
    <h2 id="h-lives">How long things last</h2>
    <p>
      Solid bars are limits that the policy sets. Hollow bars are what was proved: the longest time that
      something can still be used after it was copied, or after what should have ended it. The axis is
      logarithmic, from a second to a year.
    </p>
    ${picture(input.pictures.lives, 'Bars for each limit and each exposure; the same is in the table below')}
    ${folded('The same as a table, with how each comes about', table)}
  </section>`;
}

export function statesSection(input: ReportInput): Html {
  const { states, passages } = input.states;
  const items = states.map(({ name, isAsGuest }) => {
    const ways = passages
      .filter(({ from }) => from === name)
      .map(({ to, by }) => html`<li>${by}: ${to}</li>`);
    return html`<li>
      <strong>${name}</strong>${isAsGuest ? ' (a guest to the app)' : ''}${
        ways.length === 0
          ? null
          : html`<ul>
              ${ways}
            </ul>`
      }
    </li>`;
  });
  return html`<section id="states" aria-labelledby="h-states">
    <h2 id="h-states">Login states</h2>
    <p>What a person can be, and by what they pass from one to the other. Dotted lines are time alone.</p>
    ${picture(input.pictures.states, 'A graph of login states; the same is in the list below')}
    ${folded(
      'The same as a list',
      html`<ul>
        ${items}
      </ul>`,
    )}
  </section>`;
}
