import { checkName } from '../language/text/name-reader.js';
import { problem } from '../language/text/problems.js';
import { section, text } from '../language/text/schema-parts.js';
import { fillOf } from './fill-in.js';
import { personStep } from './step-kind.js';
import { NAME, PASSWORD, present } from './typed-form.js';

/** Fills in the sign-up form. */
export interface SignUp {
  readonly verb: 'sign-up';
  readonly account: string;
  readonly password: string;
}

export const signUp = personStep<SignUp, { as: string; password: string }>({
  verb: 'sign-up',
  row: [
    '`sign-up: { as: nell, password: n-1 }`',
    'fills in the sign-up form; later steps may name the account',
  ],
  typed: {
    usage: 'sign-up nell and a password',
    form: new RegExp(`^(?<as>${NAME})${PASSWORD}$`),
    written: ({ as, password }) => present({ as, password }),
    places: [],
  },
  traits: ['way-in', 'on-page', 'disturbs'],
  tried: (policy, { newcomer }) =>
    policy.signUp === null || newcomer === null
      ? []
      : [{ verb: 'sign-up', account: newcomer, password: newcomer }],
  joins: ({ account, password }) => ({ account, password }),
  schema: () => section('a sign-up step', { as: text('a new account'), password: text('a password') }),
  needs: { part: 'signUp', section: 'sign-up', because: 'this step signs up' },
  read({ as: account, password }, at, scope) {
    const place = scope.input.placeOf([...at, 'as']);
    checkName(account, 'account', place, scope.report);
    const isTaken = scope.policy?.accounts.has(account) === true || scope.signedUp.has(account);
    if (isTaken && !scope.deleted.has(account)) {
      const says = `there is an account called ${account} already; sign up under another name`;
      scope.report(problem('bad-value', { problem: says }, place));
    }
    scope.signedUp.set(account, password);
    scope.deleted.delete(account);
    return { verb: 'sign-up', account, password };
  },
  deed: (_stage, _here, { account, password }) =>
    fillOf('sign-up', [
      ['account', account],
      ['password', password],
    ]),
  unsaid({ stage, before, played }, { account }) {
    if (!before.accounts.has(account) && played.state.accounts.has(account)) return null;
    const lands = stage.app.policy.signUp?.lands ?? 'landing';
    return { what: `that ${account} signs up`, success: lands === 'landing' ? [] : [lands.path] };
  },
  words: ({ account }) => `sign-up ${account}`,
  written: ({ account, password }) => ({ as: account, password }),
});
