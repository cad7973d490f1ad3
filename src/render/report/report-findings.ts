import { lineText, positionOf, type Diagnostic, type Place } from '../../core/internal.js';
import { html, type Html } from '../html.js';
import { placeLink, type ReportInput } from './report-input.js';

/** What check found, each with the line of the policy. */
export function findingsSection(input: ReportInput): Html {
  const { findings, proof } = input;
  const policy = proof.input.source.file;
  return html`<section id="findings" aria-labelledby="h-findings">
    <h2 id="h-findings">Findings</h2>
    ${
      findings.length === 0
        ? html`<p>Nothing careless was found in the policy.</p>`
        : html`<ul class="findings">
            ${findings.map((each) => findingItem(each, policy))}
          </ul>`
    }
  </section>`;
}

function findingItem({ severity, code, message, place, hint, related }: Diagnostic, policy: string): Html {
  const where = place === null ? null : placeLink(policy, place);
  const others = related.map((each) => html`<p>${each.message}:${placeLink(policy, each.place)}</p>`);
  return html`<li class="${severity}">
    <p><strong>${severity}: ${code}</strong>${where}</p>
    <p>${message}</p>
    ${place === null ? null : excerpt(place)}${others}${hint === null ? null : html`<p class="quiet">${hint}</p>`}
  </li> `;
}

function excerpt(place: Place): Html {
  const { line } = positionOf(place.source, place.start);
  return html`<pre class="scroll" tabindex="0" aria-label="Line ${line}">
${lineText(place.source, line, 400)}</pre>`;
}
