import * as z from 'zod';
import { landingList, path, requestLine } from './access-schema.js';
import { CREDENTIALS } from '../vocabulary/credentials.js';
import { COOKIE } from './cookie-reader.js';
import {
  choice,
  duration,
  flag,
  listOf,
  mapOf,
  oneOrMore,
  section,
  text,
  wordList,
} from './text/schema-parts.js';

// Ways in and out, and what they hand out.

const credentials = z.array(choice(CREDENTIALS), {
  error: `a list of ${wordList(CREDENTIALS, 'and')}`,
});

const status = (least: number) =>
  z
    .int({ error: 'a status such as 401' })
    .min(least, { error: `a status from ${least} to 499` })
    .max(499, { error: `a status from ${least} to 499` });

/** How a refused form is shown again in the answer itself. */
const shownAgain = (of: string) =>
  section(`${of}.wrong`, {
    shown: z.literal(true, { error: 'true' }).optional(),
    status: status(200).optional(),
  });

const returnRules = section('login.return', {
  param: text('the name of a query parameter').optional(),
  accept: z
    .union(
      [
        choice(['same-origin', 'one-slash', 'leading-slash', 'anything', 'never']),
        section('login.return.accept', { listed: listOf('a list of paths', path) }),
      ],
      { error: 'same-origin, one-slash, leading-slash, anything, never or { listed: [paths] }' },
    )
    .optional(),
  'only-if-allowed': flag.optional(),
  kept: choice(['address', 'session']).optional(),
  'carried-over': flag.optional(),
  of: choice(['reads', 'everything']).optional(),
});

const LOGIN = {
  page: path,
  submit: requestLine,
  wrong: z
    .union([path, shownAgain('login')], {
      error: 'a path, or { shown: true, status: 401 } where the answer shows the form again',
    })
    .optional(),
  by: choice(['session', 'tokens', 'both']).optional(),
  'as-role': flag.optional(),
  'renew-session-id': flag.optional(),
  return: returnRules.optional(),
  fields: section('login.fields', {
    account: text('the name of a form field').optional(),
    password: text('the name of a form field').optional(),
  }).optional(),
  attempts: section('login.attempts', {
    most: z.int({ error: 'a whole number' }).min(1, { error: 'at least one attempt' }),
    within: duration(),
    pause: duration(),
  }).optional(),
  takes: oneOrMore('a role or a list of roles', text('a role')).optional(),
  landing: landingList.optional(),
};

export const login = section('login', LOGIN);

/** Several logins by name; the first is where people are sent who have to log in. */
export const logins = mapOf(
  'a map of logins, such as { quay: { page: /login, submit: POST /login } },',
  section('a login', LOGIN),
).refine((all) => Object.keys(all).length > 0, { error: 'logins names at least one login' });

export const signUp = section('sign-up', {
  page: path,
  submit: requestLine,
  roles: z.array(text('a role'), { error: 'a list of roles' }).optional(),
  then: choice(['login', 'confirm', 'nothing']).optional(),
  lands: z.string({ error: 'landing or a path' }).optional(),
  wrong: shownAgain('sign-up').optional(),
});

export const confirm = section('confirm', { path, life: duration() });

const LINK = {
  page: path,
  submit: requestLine,
  link: path,
  life: duration(),
  lands: path.optional(),
  code: choice(['asked', 'given']).optional(),
  tells: flag.optional(),
};

export const password = section('password', {
  change: section('password.change', {
    page: path,
    submit: requestLine,
    'asks-old': flag.optional(),
    lands: path.optional(),
  }).optional(),
  reset: section('password.reset', { ...LINK, then: choice(['login', 'signed-in']).optional() }).optional(),
  ends: z
    .array(choice([...CREDENTIALS, 'links']), {
      error: `a list of ${wordList([...CREDENTIALS, 'links'], 'and')}`,
    })
    .optional(),
  own: choice(['renews', 'keeps', 'ends']).optional(),
});

export const linkLogin = section('link-login', { ...LINK, 'same-browser': flag.optional() });

export const secondFactor = section('second-factor', {
  page: path,
  submit: requestLine,
  life: duration(),
  tries: z.int({ error: 'a whole number' }).min(1, { error: 'at least one try' }).optional(),
  asked: choice(['at-login', 'at-page']).optional(),
  of: oneOrMore('a role or a list of roles', text('a role')).optional(),
  wrong: shownAgain('second-factor').optional(),
});

export const logout = section('logout', {
  submit: oneOrMore('a request or a list of requests', requestLine),
  lands: z.union([path, landingList], { error: 'a path or a list of landing entries' }).optional(),
  clears: credentials.optional(),
  ends: credentials.optional(),
  of: choice(['login', 'account', 'shown']).optional(),
  everywhere: flag.optional(),
  status: status(200).optional(),
});

export const remember = section('remember', {
  life: duration(),
  rotates: flag.optional(),
  reuse: choice(['end-series', 'refuse']).optional(),
  'counts-as': section('remember.counts-as', {
    code: choice(['asked', 'given']).optional(),
    fresh: flag.optional(),
  }).optional(),
  cookie: section('remember.cookie', COOKIE).optional(),
});

export const tokens = section('tokens', {
  access: section('tokens.access', {
    life: duration(),
    leeway: duration(0).optional(),
    kept: choice(['page', 'tab', 'browser', 'cookie']).optional(),
  }),
  refresh: section('tokens.refresh', {
    life: duration(),
    rotates: flag.optional(),
    longest: duration().optional(),
    reuse: choice(['end-family', 'refuse', 'accept']).optional(),
    grace: duration(0).optional(),
    kept: choice(['page', 'tab', 'browser', 'cookie']).optional(),
  }).optional(),
  roles: choice(['in-token', 'each-request']).optional(),
  submit: requestLine.optional(),
  'refresh-when': z
    .union([z.literal(['refused', 'never']), duration()], {
      error: 'refused, never or a duration such as 30s',
    })
    .optional(),
  'shared-refresh': z
    .union([flag, z.literal(['until-settled', 'in-tab'])], { error: 'until-settled, true, in-tab or false' })
    .optional(),
  'failed-refresh': z.string({ error: 'login or a path' }).optional(),
  revoke: requestLine.optional(),
  refused: status(400).optional(),
});

export const proxy = section('proxy', { 'ends-tls': flag.optional(), trusted: flag.optional() });

export const csrf = section('csrf', {
  token: choice(['per-session', 'per-request', 'absent']).optional(),
  field: text('the name of a form field').optional(),
  refused: status(400).optional(),
  before: z.literal('guard', { error: 'guard' }).optional(),
  after: z.literal('guard', { error: 'guard' }).optional(),
  origin: choice(['checked', 'ignored']).optional(),
});
