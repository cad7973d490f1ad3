import { loginFor } from '../app/answer.js';
import { check } from './check.js';

/** A return address is handed on when a guest is refused. */
export const returnAddressUnused = check<null>({
  meta: {
    code: 'return-address-unused',
    severity: 'warning',
    title: 'A return address is handed on when a guest is refused.',
    why: 'The login is ready to lead people back, but no refusal tells it where they came from.',
    cwe: null,
    mend: 'Let refusals.guest be login, or leave login.return out.',
  },
  *find(facts) {
    const { logins, refusals, pages, rules } = facts.policy;
    const all = [refusals, ...[...pages, ...rules].flatMap((each) => each.refusals ?? [])];
    const led = all.flatMap(({ page, api }) => [page.guest, api.guest]);
    for (const login of logins) {
      if (login.return === null || login.return.accept === 'never') continue;
      if (!led.some((refusal) => refusal?.to === 'login' && loginFor(facts.stage.app, refusal) === login)) {
        yield { at: login.return.at, params: null };
      }
    }
  },
  message: () => 'no refusal sends guests to the login, so a return address is never handed on',
});
