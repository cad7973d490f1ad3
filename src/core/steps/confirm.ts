import { text } from '../language/text/schema-parts.js';
import { linkTo } from './links.js';
import { personStep } from './step-kind.js';
import { checkAccount } from './walk-scope.js';
import { one } from './typed-form.js';

/** Opens the link that was sent to a new account. */
export interface Confirm {
  readonly verb: 'confirm';
  readonly account: string;
}

export const confirm = personStep<Confirm, string>({
  verb: 'confirm',
  row: ['`confirm: nell`', 'opens the link that was sent to a new account'],
  typed: one('confirm nell', 'account'),
  traits: ['goes-elsewhere', 'needs-message', 'disturbs'],
  tried: (policy, { newcomer }) =>
    policy.confirm === null || newcomer === null ? [] : [{ verb: 'confirm', account: newcomer }],
  link: ({ account }) => ({ kind: 'confirm', account }),
  schema: () => text('an account that signed up'),
  needs: { part: 'confirm', section: 'confirm', because: 'this step confirms an account' },
  read(account, at, scope) {
    checkAccount(account, at, scope);
    return { verb: 'confirm', account };
  },
  deed(stage, { state }, { account }) {
    return linkTo(stage.app.policy, state, 'confirm', account) ?? `no link was sent to ${account}`;
  },
  unsaid({ stage, played }, { account }) {
    const isDone = played.exchanges.some(
      ({ route, explanation }) => route?.task === 'confirm' && explanation.reason === 'served',
    );
    if (isDone) return null;
    return { what: `that the link of ${account} is taken`, success: [stage.app.policy.login?.page ?? '/'] };
  },
  words: ({ account }) => `confirm ${account}`,
  written: ({ account }) => account,
});
