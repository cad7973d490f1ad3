import { flag, section, text } from '../language/text/schema-parts.js';
import { letsIn } from '../play/entries.js';
import { fillOf } from './fill-in.js';
import { linkOpenedAt, linkTo } from './links.js';
import { isSent, landingsOf } from './saying.js';
import { personStep } from './step-kind.js';
import { account } from './step-schemas.js';
import { checkPerson } from './walk-scope.js';
import { one } from './typed-form.js';

/** Asks for a link to log in by. */
export interface AskLink {
  readonly verb: 'ask-link';
  readonly account: string;
}

export const askLink = personStep<AskLink, string>({
  verb: 'ask-link',
  row: ['`ask-link: ines`', 'fills in the form that has a link sent to log in by'],
  typed: one('ask-link ines', 'account'),
  traits: ['goes-elsewhere', 'disturbs', 'asks-sign-in-link'],
  tried: ({ linkLogin }, { accounts }) =>
    linkLogin === null ? [] : accounts.map((name) => ({ verb: 'ask-link', account: name })),
  tale: ({ account: name }) => ({ who: null, deed: `a link to log in by is sent to ${name}` }),
  schema: () => text('the name of an account'),
  needs: { part: 'linkLogin', section: 'link-login', because: 'this step asks for a link to log in by' },
  read: (name) => ({ verb: 'ask-link', account: name }),
  deed: (_stage, _here, { account: name }) => fillOf('ask-link', [['account', name]]),
  unsaid: ({ played }) =>
    isSent(played, 'ask-link') ? null : { what: 'that a link is asked for', success: [] },
  words: ({ account: name }) => `ask-link ${name}`,
  written: ({ account: name }) => name,
});

/** Opens the last link that was sent to log in by. */
export interface OpenLink {
  readonly verb: 'open-link';
  readonly account: string;
  /** Whether it waits until the link is over. */
  readonly late: boolean;
}

export const openLink = personStep<OpenLink, string | { as: string; late?: boolean | undefined }>({
  verb: 'open-link',
  row: [
    '`open-link: ines` or `{ as: ines, late: true }`',
    'opens the last link that `ask-link` had sent; `late` waits until it is over',
  ],
  typed: one('open-link ines, or open-link ines, late', 'account', {
    form: /^(?<name>\S+?)(?<late>,? late)?$/,
    written: ({ name, late }) => (late === undefined ? name : { as: name, late: true }),
    places: [['account'], ['=late']],
  }),
  traits: ['goes-elsewhere', 'by-link', 'needs-message', 'disturbs'],
  tried: ({ linkLogin }, { accounts }) =>
    linkLogin === null ? [] : accounts.map((name) => ({ verb: 'open-link', account: name, late: false })),
  tale: ({ account: name }) => ({
    deed: `logs in as ${name} by the link`,
    still: `still logs in as ${name} by the link`,
  }),
  link: ({ account: name }) => ({ kind: 'sign-in', account: name }),
  schema: () => account.or(section('an open-link step', { as: account, late: flag.optional() })),
  needs: { part: 'linkLogin', section: 'link-login', because: 'this step logs in by a link' },
  read(written, at, scope) {
    const isShort = typeof written === 'string';
    const { as: name, late = false } = isShort ? { as: written } : written;
    checkPerson(name, isShort ? at : [...at, 'as'], scope);
    return { verb: 'open-link', account: name, late };
  },
  startsAt: ({ app }, { state }, action, time) =>
    linkOpenedAt(app.policy, state, { kind: 'sign-in', ...action }, time),
  deed: ({ app }, { state }, { account: name }) =>
    linkTo(app.policy, state, 'sign-in', name) ?? `no link was sent to ${name}`,
  unsaid(said, { account: name, late }) {
    const { before, played } = said;
    if (late || played.exchanges.some((each) => letsIn(each) || each.explanation.reason === 'code-needed')) {
      return null;
    }
    return {
      what: `that ${name} logs in by a link`,
      success: landingsOf(said, before.accounts.get(name), null, null),
    };
  },
  words: ({ account: name, late }) => `open-link ${name}${late ? ', late' : ''}`,
  written: ({ account: name, late }) => (late ? { as: name, late } : name),
});
