import * as z from 'zod';
import { METHODS } from '../http/messages.js';
import { ACCOUNT_STATES, CREDENTIALS } from './policy.js';
import { choice, duration, flag, listOf, mapOf, oneOrMore, section, text } from './schema-parts.js';

const roleNames = oneOrMore('a role or a list of roles', text('a role'));
const path = text('a path such as /berths');
const kind = choice(['page', 'api']);

const audience = z.union(
  [
    text('an audience'),
    listOf('a list of roles', text('a role')),
    section(
      'an audience',
      {
        any: roleNames.optional(),
        all: roleNames.optional(),
        none: roleNames.optional(),
        account: text('the name of a path parameter').optional(),
      },
      ['facts', 'second-factor', 'login-within'],
    ),
  ],
  { error: 'everyone, guests, signed-in, a role, a list of roles or a map such as { account: owner }' },
);
export type AudienceText = z.output<typeof audience>;

const stated = {
  for: audience.optional(),
  read: audience.optional(),
  write: audience.optional(),
  kind: kind.optional(),
};
export type StatedText = {
  for?: AudienceText | undefined;
  read?: AudienceText | undefined;
  write?: AudienceText | undefined;
};

const refusal = z.union([z.int(), z.string()], {
  error: 'login, landing, a status (401, 403 or 404) or a path',
});
const REFUSALS = {
  guest: refusal.optional(),
  'guests-only': refusal.optional(),
  role: refusal.optional(),
  unknown: refusal.optional(),
};
export type RefusalText = z.output<typeof refusal>;

/** `POST /sign-in`: a method and a path. */
export const requestLine = z
  .string({ error: 'a request such as POST /sign-in' })
  .transform((value, context) => {
    const [, method, target] = /^([A-Z]+) (\/\S*)$/.exec(value) ?? [];
    const known = METHODS.find((each) => each === method);
    if (known !== undefined && target !== undefined) return { method: known, target };
    const problem =
      method === undefined
        ? 'a request is written like POST /sign-in'
        : `${method} is no request method; use ${METHODS.join(', ')}`;
    context.addIssue({ code: 'custom', message: problem });
    return z.NEVER;
  });

const credentials = z.array(choice(CREDENTIALS, ['remember']), {
  error: 'a list of session, access and refresh',
});

const account = section(
  'an account',
  {
    password: text('a password'),
    roles: z.array(text('a role'), { error: 'a list of roles' }).optional(),
    state: choice(ACCOUNT_STATES).optional(),
  },
  ['facts', 'second-factor'],
);

const login = section(
  'login',
  {
    page: path,
    submit: requestLine,
    wrong: path.optional(),
    by: choice(['session', 'tokens', 'both']).optional(),
    return: section('login.return', {
      param: text('the name of a query parameter').optional(),
      accept: z
        .union(
          [
            choice(['same-origin', 'leading-slash', 'anything', 'never']),
            section('login.return.accept', { listed: listOf('a list of paths', path) }),
          ],
          { error: 'same-origin, leading-slash, anything, never or { listed: [paths] }' },
        )
        .optional(),
      'only-if-allowed': flag.optional(),
    }).optional(),
  },
  ['as-role', 'renew-session-id', 'attempts'],
);

const session = section(
  'session',
  {
    kept: choice(['store'], ['memory', 'sealed']).optional(),
    idle: duration().optional(),
    absolute: duration().optional(),
    renews: choice(['each-request', 'past-half', 'never']).optional(),
    cookie: section('session.cookie', {
      name: text('the name of a cookie').optional(),
      secure: flag.optional(),
      'http-only': flag.optional(),
      'same-site': choice(['lax', 'strict', 'none']).optional(),
      life: z
        .union([z.literal('browser'), duration()], { error: 'browser or a duration such as 8h' })
        .optional(),
    }).optional(),
  },
  ['roles', 'at-once', 'account-gone'],
);

const tokens = section(
  'tokens',
  {
    access: section('tokens.access', { life: duration(), leeway: duration(0).optional() }, ['kept']),
    refresh: section('tokens.refresh', { life: duration(), rotates: flag.optional() }, [
      'longest',
      'reuse',
      'grace',
      'kept',
    ]).optional(),
    submit: requestLine.optional(),
    'refresh-when': z
      .union([z.literal(['refused', 'never']), duration()], {
        error: 'refused, never or a duration such as 30s',
      })
      .optional(),
    'failed-refresh': z.string({ error: 'login or a path' }).optional(),
  },
  ['roles', 'revoke', 'shared-refresh'],
);

/** The shape of a policy file. What its names refer to is settled by `policy-reader.ts`. */
export const policySchema = section(
  'the policy',
  {
    cavrin: z.literal(1, { error: 'the version of the language, 1' }),
    app: text('the name of the app'),
    origin: text('an origin such as https://harbour.example'),
    roles: mapOf(
      'a map of roles',
      z.array(text('a role'), { error: 'a list of the roles it includes, [] for none' }),
    ).optional(),
    accounts: mapOf('a map of accounts', account).optional(),
    pages: mapOf(
      'a map of paths',
      section('a page', stated, ['methods', 'forward', 'loads', 'guard', 'cache']),
    ).optional(),
    rules: z
      .array(
        section('a rule', { path: oneOrMore('a path or a list of paths', path), ...stated }, [
          'matches',
          'from',
          'host',
          'scheme',
          'methods',
        ]),
        { error: 'a list of rules' },
      )
      .optional(),
    otherwise: audience.optional(),
    refusals: section(
      'refusals',
      { ...REFUSALS, api: section('refusals.api', REFUSALS, ['second-factor', 'stale-login']).optional() },
      ['second-factor', 'stale-login'],
    ).optional(),
    login: login.optional(),
    landing: z
      .array(
        section(
          'a landing entry',
          { role: roleNames.optional(), to: path.optional(), otherwise: path.optional() },
          ['facts'],
        ),
        { error: 'a list of landing entries' },
      )
      .optional(),
    logout: section(
      'logout',
      {
        submit: oneOrMore('a request or a list of requests', requestLine),
        lands: path.optional(),
        clears: credentials.optional(),
        ends: credentials.optional(),
      },
      ['everywhere'],
    ).optional(),
    session: session.optional(),
    tokens: tokens.optional(),
    accepted: z
      .array(
        section('an accepted finding', { check: text('the code of a check'), because: text('a reason') }),
        {
          error: 'a list of accepted findings',
        },
      )
      .optional(),
    walks: z.unknown().optional(),
  },
  ['sign-up', 'confirm', 'second-factor', 'remember', 'proxy', 'back-button', 'menu', 'promises'],
);
export type PolicyText = z.output<typeof policySchema>;
