import { html, type Html } from '../html.js';

/** A table that scrolls by itself where it is wider than the page, and can be reached by keyboard. */
export function tableOf(label: string, heads: readonly string[], rows: readonly Html[]): Html {
  return html`<div class="scroll" tabindex="0" role="region" aria-label="${label}">
    <table>
      <thead>
        <tr>
          ${heads.map((head) => html`<th scope="col">${head}</th>`)}
        </tr>
      </thead>
      <tbody>
        ${rows}
      </tbody>
    </table>
  </div>`;
}
