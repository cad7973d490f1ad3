import { check } from './check.js';
import { linkFormsOf } from './link-forms.js';

/** A link or page that guests have to use is open to guests. */
export const wayClosedToGuests = check<{ what: string; path: string }>({
  meta: {
    code: 'way-closed-to-guests',
    severity: 'error',
    title: 'A link or page that guests have to use is open to guests.',
    why: 'Whoever has to confirm an account, owes the code of a login or has forgotten a password is not signed in yet. Behind a login they can never do it.',
    cwe: null,
    mend: 'Give the address the audience guests, or everyone.',
  },
  *find(facts) {
    const { confirm, secondFactor } = facts.policy;
    const ways = [
      ...(confirm === null
        ? []
        : [{ what: 'the confirmation link', address: facts.sampleOf(confirm), at: confirm.at }]),
      ...(secondFactor?.asked === 'at-login'
        ? [{ what: 'the code page', address: secondFactor.page, at: [...secondFactor.at, 'page'] }]
        : []),
      ...linkFormsOf(facts.policy).flatMap(({ form, what }) => [
        { what: `the page where ${what} is asked for,`, address: form.page, at: [...form.at, 'page'] },
        { what, address: facts.sampleOf(form.link), at: [...form.at, 'link'] },
      ]),
    ];
    for (const { what, address, at } of ways) {
      const route = facts.route(address);
      if (route === null || (route.page === null && route.task === null)) continue;
      if (facts.mayRead(address, facts.guest) === 'served') continue;
      yield {
        at,
        params: { what, path: address },
        related: [{ at: route.grounds.at, message: 'this closes it' }],
        shownBy: facts.shownBy('GET', address, 'a guest'),
      };
    }
  },
  message: ({ what, path }) => `${what} ${path} is closed to guests, who have to use it`,
});
