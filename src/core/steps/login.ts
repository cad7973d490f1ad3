import * as z from 'zod';
import { takes } from '../app/logins.js';
import { showsForm } from '../browser/forms.js';
import type { LoginForm } from '../http/messages.js';
import type { Login as Rules } from '../language/policy.js';
import { problem } from '../language/text/problems.js';
import { flag, section, text } from '../language/text/schema-parts.js';
import type { Path } from '../language/text/yaml-text.js';
import { letsIn } from '../play/entries.js';
import type { Stage } from '../play/stage.js';
import { fillOf } from './fill-in.js';
import { hasAnything, isSent, landingsOf, type SaidStep } from './saying.js';
import { personStep, type Here } from './step-kind.js';
import { account } from './step-schemas.js';
import { checkPerson, checkLogin, checkProvider, checkRole, type WalkScope } from './walk-scope.js';
import { NAME, present } from './typed-form.js';

/** Fills in the login form. */
export interface Login {
  readonly verb: 'login';
  readonly account: string;
  readonly password: string;
  /** Whether the walk writes the password itself, so that it need not be the account's. */
  readonly passwordGiven: boolean;
  /** Whether it is another than the account has by then, as far as the walk tells. */
  readonly isWrong: boolean;
  /** The role picked of several; null: the form's own choice. */
  readonly role: string | null;
  /** Whether the visitor asks to be known again. */
  readonly remember: boolean;
  /** The login whose form it is, of several; null for the one in front, or else the first that takes the account. */
  readonly at: string | null;
  /** The identity provider by which somebody comes in, without a password of the app; null for a login form. */
  readonly with: string | null;
  /** The site on which the form stands, filled in by somebody else; null for the app's own. */
  readonly from: string | null;
}

/** A login step as a map. */
export interface FullLogin {
  as: string;
  password?: string | undefined;
  role?: string | undefined;
  remember?: boolean | undefined;
  at?: string | undefined;
  with?: string | undefined;
}

export const login = personStep<Login, string | FullLogin>({
  verb: 'login',
  row: [
    '`login: ines` or `{ as: ines, password: wrong, role: bursar, remember: true }`',
    'fills in the login form, at the login page or after going there; `at: office` names one of several logins; `with: port-id` goes to an identity provider instead, as one of whom it knows or as somebody new; with `from:` it stands on another site, and somebody else has filled it in',
  ],
  typed: {
    usage: 'login ines, login ines at office, as bursar, with port-id, remembered, wrong password',
    form: new RegExp(
      `^(?<name>${NAME}?)(?:,? at (?<at>${NAME}?))?(?:,? with (?<with>${NAME}?))?(?:,? as (?<role>${NAME}?))?(?<remember>,? remembered)?(?:,? (?<wrong>wrong )?password(?: (?<password>\\S.*))?)?$`,
    ),
    written({ name, at, with: provider, role, remember, wrong, password }) {
      const given = password ?? (wrong === undefined ? undefined : 'a wrong password');
      const more = present({
        password: given,
        role,
        remember: remember === undefined ? undefined : true,
        at,
        with: provider,
      });
      return Object.keys(more).length === 0 ? name : { as: name, ...more };
    },
    places: [
      ['account'],
      ['=at', '=with', '=as', '=remembered', '=wrong'],
      ['login', 'provider', 'role', '=password'],
      ['=as', '=remembered'],
    ],
  },
  traits: ['way-in', 'on-page', 'on-the-way'],
  tale: ({ account: who, remember }) => ({ who, deed: `logs in${remember ? ' and is remembered' : ''}` }),
  entrant: (action) => action,
  schema: () =>
    z.union(
      [
        account,
        section('a login step', {
          as: account,
          password: text('a password').optional(),
          role: text('a role of the account').optional(),
          remember: flag.optional(),
          at: text('the name of a login').optional(),
          with: text('the name of an identity provider').optional(),
        }),
      ],
      { error: 'an account, or a map such as { as: ines, password: wrong }' },
    ),
  needs: { part: 'login', section: 'login', because: 'this step logs in' },
  takesFrom: true,
  read(written, at, scope, from) {
    const isShort = typeof written === 'string';
    const full: FullLogin = isShort ? { as: written } : written;
    const { as: name, password: given, remember = false } = full;
    const [role, login, provider] = [full.role ?? null, full.at ?? null, full.with ?? null];
    if (provider === null) checkPerson(name, isShort ? at : [...at, 'as'], scope);
    else checkProvider(provider, name, at, scope);
    const own = scope.signedUp.get(name) ?? scope.policy?.accounts.get(name)?.password ?? '';
    if (remember) requireRemember([...at, 'remember'], scope);
    if (role !== null) checkRole(role, [...at, 'role'], scope);
    if (login !== null) checkLogin(login, [...at, 'at'], scope);
    return {
      verb: 'login',
      account: name,
      password: given ?? own,
      passwordGiven: given !== undefined,
      isWrong: given !== undefined && !scope.chosen.has(given) && given !== (scope.changed.get(name) ?? own),
      role,
      remember,
      at: login,
      with: provider,
      from,
    };
  },
  deed(stage, here, action) {
    if (action.with !== null) return fillOf(`with ${action.with}`, [['person', action.account]]);
    const fill = fillOf(formFor(stage, here, action), [
      ['account', action.account],
      ['password', action.password],
      ...(action.role === null ? [] : [['role', action.role] as const]),
      ...(action.remember ? [['remember', 'yes'] as const] : []),
    ]);
    return action.from === null ? fill : { ...fill, from: action.from };
  },
  unsaid(said, action) {
    const { stage, before, played, clock } = said;
    const known = before.accounts.get(action.account);
    // A password that is written out may be meant to be wrong.
    if (action.passwordGiven && action.password !== known?.password) {
      return isSent(played, 'login') ? null : { what: 'that a login form is sent', success: [] };
    }
    const isDone = played.exchanges.some(
      (each) =>
        (letsIn(each) && each.explanation.seenAs === action.account) ||
        (WAYS_IN.has(each.route?.task ?? '') && each.explanation.reason === 'code-needed'),
    );
    if (isDone && hasAnything(stage, played.state, played.browser, clock)) return null;
    return {
      what: `that ${action.account} logs in`,
      success: landingsOf(said, known, action.role, loginOf(said)),
    };
  },
  words(action) {
    const { role, remember, isWrong, at, with: provider, from } = action;
    const more = [
      at === null ? '' : ` at ${at}`,
      provider === null ? '' : ` with ${provider}`,
      role === null ? '' : ` as ${role}`,
      remember ? ', remembered' : '',
      isWrong ? ', wrong password' : '',
      from === null ? '' : ` from ${from}`,
    ];
    return `login ${action.account}${more.join('')}`;
  },
  written({ account: name, password, passwordGiven, role, remember, at, with: provider }) {
    const more = {
      ...(passwordGiven ? { password } : {}),
      ...(role === null ? {} : { role }),
      ...(remember ? { remember } : {}),
      ...(at === null ? {} : { at }),
      ...(provider === null ? {} : { with: provider }),
    };
    return Object.keys(more).length === 0 ? name : { as: name, ...more };
  },
});

/** Where a login may ask for a code. */
const WAYS_IN: ReadonlySet<string> = new Set(['login', 'provider-back']);

/** The form that is filled in. */
function formFor(
  { app, client }: Stage,
  { state, browser }: Pick<Here, 'state' | 'browser'>,
  { account: name, at }: Login,
): LoginForm {
  const { logins } = app.policy;
  const named = logins.find((each) => each.name === at);
  const inFront = () => logins.find(({ form }) => showsForm(client, browser.tab.page, form));
  const known = state.accounts.get(name);
  const taking = () => (known === undefined ? undefined : logins.find((each) => takes(each, known)));
  return (named ?? inFront() ?? taking())?.form ?? 'login';
}

/** The login that was tried. */
function loginOf({ played }: SaidStep): Rules | null {
  return played.exchanges.find(({ route }) => route?.task === 'login')?.route?.login ?? null;
}

function requireRemember(at: Path, scope: WalkScope): void {
  if (scope.policy === null || scope.policy.remember !== null) return;
  const because = 'this step asks to be remembered';
  scope.report(problem('missing-section', { section: 'remember', because }, scope.input.placeOf(at)));
}
