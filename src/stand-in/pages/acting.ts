import { isActedFor, mayAct, pathOf } from '../../core/internal.js';
import { hiddenToken } from './forms.js';
import { html, type Html } from '../../render/html.js';
import type { View } from './view.js';

/** More buttons than that nobody looks through. */
const MOST_SHOWN = 20;

/** What starts to act for somebody, for whoever may, and what ends it. */
export function acting(view: View): Html | null {
  const { site, decided } = view;
  const rules = site.policy.impersonation;
  const { visitor } = decided;
  const token = hiddenToken(view);
  // A page of a refusal carries no token, so that its forms would be refused too.
  if (rules === null || visitor.session < 0 || (site.stage.client.csrfField !== null && token === null)) {
    return null;
  }
  if (visitor.actedBy !== null) {
    return html`<form
      class="card"
      method="${rules.stop.method}"
      action="${pathOf(rules.stop.path)}"
      data-form="stop-acting"
    >
      <p>
        ${visitor.actedBy} acts for ${visitor.account ?? ''}. ${token}<button>
          Be ${visitor.actedBy} again
        </button>
      </p>
    </form>`;
  }
  const others = [...site.state.accounts.values()].filter(
    (each) => each.name !== visitor.account && isActedFor(rules, each),
  );
  if (!mayAct(rules, visitor.roles) || others.length === 0) return null;
  const { method, path } = rules.start;
  const buttons = others.slice(0, MOST_SHOWN).map(({ name }) => {
    const to = path.replace(/:[^/]+/, encodeURIComponent(name.toWellFormed()));
    return html`<button class="pick" formaction="${to}">${name}</button> `;
  });
  return html`<form class="card" method="${method}" data-form="act-for">
    <h2>Act for</h2>
    ${token}
    <p>${buttons}</p>
  </form>`;
}
