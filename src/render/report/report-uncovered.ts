import { coverageOf } from '../../core/internal.js';
import { percentOf, shortened, untouchedOf } from '../coverage/coverage-text.js';
import { html, type Html } from '../html.js';
import { count } from '../style.js';
import type { ReportInput } from './report-input.js';
import { folded } from './report-pictures.js';
import { tableOf } from './report-table.js';

/** More than these of one group nobody reads in a report: `cavrin coverage` has them all. */
const MOST = 60;

/** What no walk touches, and what a run against the real app found. */
export function uncoveredSection(input: ReportInput): Html {
  const { stage } = input.proof;
  const walks = input.walks.map(({ walk }) => walk);
  const coverage = coverageOf(stage, input.proof.input, walks);
  const rows = coverage.groups.map(({ group, items }) => {
    const touched = items.filter(({ times }) => times > 0).length;
    return html`<tr>
      <th scope="row">${group}</th>
      <td>${touched} of ${items.length}</td>
      <td>${percentOf({ all: items.length, touched })} %</td>
    </tr>`;
  });
  const lists = coverage.groups.flatMap((group) => {
    const untouched = untouchedOf(group, input.proof.input);
    if (untouched.length === 0) return [];
    const items = untouched
      .slice(0, MOST)
      .map(
        ({ subject, line, aspects }) =>
          html`<li>
            ${subject}${aspects.length === 0 ? '' : `: ${shortened(aspects).join('; ')}`}${line === null ? null : html` <a class="line" href="#L${line}">line ${line}</a>`}
          </li>`,
      );
    const more = untouched.length - items.length;
    const rest = more <= 0 ? null : html`<p class="quiet">${more} more are left out here.</p>`;
    return [
      folded(
        `${group.group}: ${untouched.length} not or not wholly touched`,
        html`<ul>
            ${items}
          </ul>
          ${rest}`,
      ),
    ];
  });
  return html`<section id="uncovered" aria-labelledby="h-uncovered">
    <h2 id="h-uncovered">What the walks do not touch</h2>
    <p>
      The walks touch ${coverage.touched} of ${count(coverage.all, 'thing')} that they could,
      <strong>${percentOf(coverage)} %</strong>. What no walk comes to, the proof does.
    </p>
    ${tableOf('What walks touch', ['what', 'touched', 'share'], rows)} ${lists} ${liveBlock(input)}
  </section>`;
}

function liveBlock({ live }: ReportInput): Html {
  if (live === null) {
    return html`<p class="quiet">
      No run against the real app is part of this report.
      <code>cavrin live --format json --output live.json</code> makes one, and
      <code>cavrin report --live live.json</code> has it.
    </p>`;
  }
  const { findings, totals } = live;
  const items = findings.map(
    ({ title, accepted, first }) =>
      html`<li>
        <strong>${title}</strong>${accepted === null ? '' : ` (accepted: ${accepted})`}<br /><span
          class="quiet"
          >${first.walk}, step ${first.step}: ${first.action}</span
        >
      </li>`,
  );
  return html`<h3>The running app</h3>
    <p>
      ${count(totals.walks, 'walk')} with ${count(totals.steps, 'step')} were played against ${live.at};
      ${count(findings.length, 'difference')} found.
    </p>
    ${
      items.length === 0
        ? null
        : html`<ul>
            ${items}
          </ul>`
    }`;
}
