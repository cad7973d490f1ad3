import { encodedReference } from '../http/address.js';
import { problem } from '../language/text/problems.js';
import { text } from '../language/text/schema-parts.js';
import { nearest } from '../language/text/suggestions.js';
import { personStep } from './step-kind.js';
import { one } from './typed-form.js';

/** Follows a link of the menu, named by its address or its text. */
export interface Follow {
  readonly verb: 'follow';
  readonly to: string;
  readonly link: string;
}

export const follow = personStep<Follow, string>({
  verb: 'follow',
  row: ['`follow: Berths` or `/berths`', 'follows a link of the menu, which the page must show'],
  typed: one('follow Berths', 'menu', { form: /^(?<name>\S.*)$/ }),
  traits: ['goes-elsewhere', 'no-login', 'on-page'],
  untried: 'a visit is tried',
  schema: () => text('the address or the text of a menu link'),
  // Either way it must be in the policy's menu.
  read(link, at, scope) {
    const menu = scope.policy?.menu ?? [];
    const found = menu.find((each) => each.to === encodedReference(link) || each.text === link);
    if (scope.policy !== null && found === undefined) {
      const near = nearest(link, [...menu.map((each) => each.to), ...menu.map((each) => each.text)]);
      scope.report(problem('unknown-link', { name: link, near }, scope.input.placeOf(at)));
    }
    return { verb: 'follow', to: found?.to ?? link, link };
  },
  deed: (_stage, { browser }, { to }) =>
    browser.tab.page?.menu.includes(to) === true
      ? { deed: 'open', address: to, isLink: true }
      : `the page shows no link to ${to}`,
  unsaid({ played: { exchanges } }, { to }) {
    const isRefused = exchanges.some(
      ({ explanation: { reason }, response }) =>
        response.status >= 400 || (reason !== 'served' && reason !== 'forwarded'),
    );
    return isRefused ? { what: `that the link leads to ${to}`, success: [to] } : null;
  },
  words: ({ link }) => `follow ${link}`,
  written: ({ link }) => link,
});
