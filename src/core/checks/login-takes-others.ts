import { loginFor } from '../app/answer.js';
import { takes } from '../app/logins.js';
import { check } from './check.js';
import type { Person } from './encounters.js';

/** Guests who are sent to a login can come in there, as far as what they asked for is for them. */
export const loginTakesOthers = check<{ path: string; who: string; page: string }>({
  meta: {
    code: 'login-takes-others',
    severity: 'error',
    title: 'Guests are sent to a login that takes somebody whom the page is for.',
    why: 'Whoever asks for the page is sent to a form that refuses the right password of everybody who may see it.',
    cwe: null,
    mend: 'Name the login that takes them in refusals.guest of the page or its rule.',
  },
  *find(facts) {
    if (facts.policy.logins.every((each) => each.takes === null)) return;
    for (const { page } of facts.pageClasses) {
      const route = facts.pageRoute(page);
      const refusal = route?.refusals.guest;
      if (route === null || refusal?.to !== 'login') continue;
      const { audience, at } = route.grounds;
      const login = loginFor(facts.stage.app, refusal);
      if (login === null || login.takes === null || facts.admits(audience, facts.guest)) continue;
      const readerAmong = (people: readonly Person[]) =>
        facts.firstOf([audience], route.parameters, (isIn) => isIn(audience), people);
      // Where no account may see it, it is for whoever is given a role by which they may.
      const people = readerAmong(facts.accounts) === undefined ? facts.people : facts.accounts;
      const first = readerAmong(people);
      const taken = people.filter(({ visitor }) => takes(login, visitor));
      if (first === undefined || readerAmong(taken) !== undefined) continue;
      yield {
        at: page.at,
        params: { path: page.pattern.text, who: first.who, page: login.page },
        related: [
          { at: [...login.at, 'takes'], message: 'this login takes others' },
          { at, message: 'this is whom the page is for' },
        ],
        shownBy: `GET ${facts.sampleOf(page)} by a guest is sent to ${login.page}, which refuses ${first.who}`,
      };
    }
  },
  message: ({ path, who, page }) =>
    `${path} is for ${who}, and sends guests to ${page}, which does not take them`,
});
