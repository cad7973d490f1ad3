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
    const { login, refusals } = facts.policy;
    if (login === null || login.return === null || login.return.accept === 'never') return;
    const leads = [refusals.page.guest, refusals.api.guest].some((refusal) => refusal.to === 'login');
    if (!leads) yield { at: ['login', 'return'], params: null };
  },
  message: () => 'no refusal sends guests to the login, so a return address is never handed on',
});
