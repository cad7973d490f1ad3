import type { ReportInput } from './report-input.js';
import { lineLink } from './report-input.js';
import { html, type Html } from '../html.js';
import { count } from '../style.js';

/** What no walk touches, and what a run against the real app found. */
export function uncoveredSection(input: ReportInput): Html {
  const { policy } = input.proof.stage.app;
  const exchanges = input.walks.flatMap(({ steps }) => steps.flatMap(({ played }) => played.exchanges));
  const asked = new Set(exchanges.map(({ route }) => route?.page?.pattern.text));
  const deciding = new Set(exchanges.map(({ route }) => route?.grounds.at.slice(0, 2).join(' ')));
  const seen = new Set(exchanges.map(({ explanation }) => explanation.seenAs));
  const pages = policy.pages.filter(({ pattern }) => !asked.has(pattern.text));
  const rules = policy.rules.filter(({ at }) => !deciding.has(at.slice(0, 2).join(' ')));
  const accounts = [...policy.accounts.values()].filter(
    ({ name, state }) => state === 'active' && !seen.has(name),
  );
  const items = [
    ...pages.map(({ pattern, at }) => html`<li>the page ${pattern.text}${lineLink(input, at)}</li>`),
    ...rules.map(({ number, at }) => html`<li>rule ${number}${lineLink(input, at)}</li>`),
    ...accounts.map(
      ({ name, at }) => html`<li>the account ${name}, whom no walk sees signed in${lineLink(input, at)}</li>`,
    ),
  ];
  return html`<section id="uncovered" aria-labelledby="h-uncovered">
    <h2 id="h-uncovered">What the walks do not touch</h2>
    ${
      items.length === 0
        ? html`<p>
            Every page is asked for, every rule decides something, and every account is seen signed in.
          </p>`
        : html`<p>No walk comes to these; the proof does.</p>
            <ul>
              ${items}
            </ul>`
    }
    ${liveBlock(input)}
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
