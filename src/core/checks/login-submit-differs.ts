import { admit } from '../app/admit.js';
import { check } from './check.js';

/** The login form is for the same people when it is sent as when it is shown. */
export const loginSubmitDiffers = check<{ who: string; shown: boolean }>({
  meta: {
    code: 'login-submit-differs',
    severity: 'error',
    title: 'The login form is for the same people when it is sent as when it is shown.',
    why: 'A form that is shown and then refused locks people out; one that is hidden and then taken lets a signed-in visitor become another.',
    cwe: null,
    mend: 'Give the login page one audience, for: guests, instead of read and write.',
  },
  *find(facts) {
    const { login } = facts.policy;
    const route = login === null ? null : facts.route(login.page);
    if (route === null || route.page === null) return;
    for (const { who, visitor } of facts.people) {
      const shown = admit(route.read.audience, visitor, route.parameters) === 'served';
      const sent = admit(route.write.audience, visitor, route.parameters) === 'served';
      if (shown === sent) continue;
      yield { at: shown ? route.write.at : route.read.at, params: { who, shown } };
      return;
    }
  },
  message: ({ who, shown }) =>
    shown
      ? `${who} is shown the login form but refused when sending it`
      : `${who} is refused the login form but may send it`,
});
