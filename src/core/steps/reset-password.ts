import { flag, section, text } from '../language/text/schema-parts.js';
import { fillOf } from './fill-in.js';
import { isChanged } from './change-password.js';
import { lastLink, linkOpenedAt } from './links.js';
import { isSent } from './saying.js';
import { personStep } from './step-kind.js';
import { account } from './step-schemas.js';
import { checkPerson } from './walk-scope.js';
import { NAME, PASSWORD, one, present } from './typed-form.js';

/** Asks for a link to choose a new password. */
export interface AskReset {
  readonly verb: 'ask-reset';
  readonly account: string;
}

export const askReset = personStep<AskReset, string>({
  verb: 'ask-reset',
  row: ['`ask-reset: ines`', 'fills in the form of whoever has forgotten their password'],
  typed: one('ask-reset ines', 'account'),
  traits: ['goes-elsewhere', 'disturbs'],
  tried: (policy, { accounts }) =>
    policy.password?.reset ? accounts.map((name) => ({ verb: 'ask-reset', account: name })) : [],
  tale: ({ account: name }) => ({ who: null, deed: `a link for a new password is sent to ${name}` }),
  schema: () => text('the name of an account'),
  needs: { part: 'password', section: 'password', because: 'this step asks for a link to reset one' },
  read: (name) => ({ verb: 'ask-reset', account: name }),
  deed: ({ app }, _here, { account: name }) =>
    (app.policy.password?.reset ?? null) === null
      ? 'password has no reset: nobody can ask for a link'
      : fillOf('ask-reset', [['account', name]]),
  unsaid: ({ played }) =>
    isSent(played, 'ask-reset') ? null : { what: 'that a link is asked for', success: [] },
  words: ({ account: name }) => `ask-reset ${name}`,
  written: ({ account: name }) => name,
});

/** Opens the last link that was sent for a new password, and fills in its form. */
export interface Reset {
  readonly verb: 'reset';
  readonly account: string;
  readonly password: string;
  /** Whether it waits until the link is over. */
  readonly late: boolean;
}

export const reset = personStep<Reset, { as: string; password: string; late?: boolean | undefined }>({
  verb: 'reset',
  row: [
    '`reset: { as: ines, password: new }`',
    'opens the last link that `ask-reset` had sent, and fills in the new password; `late: true` waits until the link is over',
  ],
  typed: {
    usage: 'reset ines and a new password, or with late before it',
    form: new RegExp(`^(?<as>${NAME}?)(?<late>,? late)?${PASSWORD}$`),
    written: ({ as, password, late }) =>
      present({ as, password, late: late === undefined ? undefined : true }),
    places: [['account'], ['=late']],
  },
  traits: ['goes-elsewhere', 'by-link', 'needs-message', 'disturbs'],
  tried: (policy, { accounts, password }) =>
    policy.password?.reset
      ? accounts.map((name) => ({ verb: 'reset', account: name, password, late: false }))
      : [],
  tale: ({ account: name }) => ({
    deed: `sets a password for ${name} by the link`,
    still: `still sets a password for ${name} by the link`,
  }),
  link: ({ account: name }) => ({ kind: 'reset', account: name }),
  schema: () =>
    section('a reset step', { as: account, password: text('the new password'), late: flag.optional() }),
  needs: { part: 'password', section: 'password', because: 'this step resets a password' },
  read({ as: name, password, late }, at, scope) {
    checkPerson(name, [...at, 'as'], scope);
    scope.changed.set(name, password);
    return { verb: 'reset', account: name, password, late: late ?? false };
  },
  startsAt: ({ app }, { state }, action, time) =>
    linkOpenedAt(app.policy, state, { kind: 'reset', ...action }, time),
  deed(stage, { state }, { account: name, password }) {
    const at = lastLink(stage.app.policy, state, 'reset', name);
    if (at === null) return `no link was sent to ${name}`;
    const filled = fillOf('reset', [['password', password]]);
    return { ...filled, fill: { ...filled.fill, at } };
  },
  unsaid({ before, played }, { account: name, late }) {
    if (late || isChanged(before, played)) return null;
    return { what: `that the password of ${name} is reset`, success: [] };
  },
  words: ({ account: name, late }) => `reset ${name}${late ? ', late' : ''}`,
  written: ({ account: name, password, late }) => ({ as: name, password, ...(late ? { late } : {}) }),
});
