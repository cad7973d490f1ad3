import * as z from 'zod';
import { METHODS } from '../http/messages.js';
import { ACCOUNT_STATES } from '../vocabulary/account-states.js';
import { CREDENTIALS } from '../vocabulary/credentials.js';
import { PROMISE_EVENTS } from '../vocabulary/promise-events.js';
import { ownRefusals } from './refusals.js';
import { choice, duration, flag, listOf, mapOf, oneOrMore, section, text } from './text/schema-parts.js';
import { conditionSchemas } from '../audience/all-conditions.js';
import { roleNames } from '../audience/role-names.js';
import { factChanges, facts } from '../audience/written.js';

// Who may see what: accounts, pages, rules, refusals and where people land.

export const path = text('a path such as /berths');
const kind = choice(['page', 'api']);

/** `POST /sign-in`: a method and a path. */
export const requestLine = z
  .string({ error: 'a request such as POST /sign-in' })
  .meta({ pattern: `^(${METHODS.join('|')}) /\\S*$`, examples: ['POST /sign-in'] })
  .transform((value, context) => {
    const [, method, target] = /^([A-Za-z]+) (\/\S*)$/.exec(value) ?? [];
    const known = METHODS.find((each) => each === method);
    if (known !== undefined && target !== undefined) return { method: known, target };
    const meant = METHODS.find((each) => each === method?.toUpperCase());
    const problem = /^\/\S*$/.test(value)
      ? `the method is missing: write POST ${value}, or another of ${METHODS.join(', ')}`
      : method === undefined
        ? 'a request is written like POST /sign-in'
        : meant !== undefined
          ? `methods are written in capitals: ${meant} ${target ?? ''}`
          : `${method} is no request method; use ${METHODS.join(', ')}`;
    context.addIssue({ code: 'custom', message: problem });
    return z.NEVER;
  });

export const audience = z.union(
  [
    text('an audience'),
    listOf('a list of roles', text('a role')),
    section('an audience', conditionSchemas()),
  ],
  {
    error: 'everyone, guests, signed-in, nobody, a role, a list of roles or a map such as { account: owner }',
  },
);
export type AudienceText = z.output<typeof audience>;

const stated = {
  for: audience.optional(),
  read: audience.optional(),
  write: audience.optional(),
  kind: kind.optional(),
};

const methodAudiences = z.partialRecord(z.enum(METHODS, { error: METHODS.join(', ') }), audience, {
  error: 'a map such as { DELETE: [dockmaster] }',
});

export type MethodAudiencesText = z.output<typeof methodAudiences>;
export type StatedText = {
  [Key in 'for' | 'read' | 'write']?: AudienceText | undefined;
};

export const account = section('an account', {
  password: text('a password').optional(),
  key: z.literal(true, { error: 'true: leave it out where people log in' }).optional(),
  roles: z.array(text('a role'), { error: 'a list of roles' }).optional(),
  facts: facts.optional(),
  'second-factor': flag.optional(),
  state: choice(ACCOUNT_STATES).optional(),
  joined: duration(0).optional(),
});

const landingEntry = section('a landing entry', {
  role: roleNames.optional(),
  facts: facts.optional(),
  at: path.optional(),
  to: path.optional(),
  otherwise: path.optional(),
});
export type LandingText = z.output<typeof landingEntry>;
/** An ordered list of where people are sent. */
export const landingList = listOf(
  'a list of landing entries, such as [{ role: bursar, to: /ledger }, { otherwise: / }],',
  landingEntry,
);

export const backButton = choice(['no-store', 'cached']);

/** What stands on a page as on a rule, besides whom it is for. */
const shownHow = {
  refusals: ownRefusals.optional(),
  guard: choice(['server', 'browser']).optional(),
  cache: backButton.optional(),
};

const part = section('a part of a page', {
  text: text('the text of the part'),
  for: audience,
  sends: requestLine.optional(),
});

export const page = section('a page', {
  ...stated,
  ...shownHow,
  methods: z
    .union([listOf('a list of methods', z.enum(METHODS, { error: METHODS.join(', ') })), methodAudiences], {
      error: 'a list of the methods that it answers, or a map such as { DELETE: [dockmaster] }',
    })
    .optional(),
  'after-write': z.string({ error: 'stays or a path such as /loans' }).optional(),
  'write-status': z.literal([200, 201, 202, 204], { error: '200, 201, 202 or 204' }).optional(),
  forward: z
    .union([z.literal('landing'), landingList], { error: 'landing or a list of landing entries' })
    .optional(),
  loads: z.array(requestLine, { error: 'a list of requests such as GET /api/ledger' }).optional(),
  parts: mapOf('a map of parts, such as { assign: { text: Assign, for: [dockmaster] } },', part).optional(),
  sets: factChanges.optional(),
});

export const rule = section('a rule', {
  path: oneOrMore('a path or a list of paths', path).optional(),
  matches: text('a regular expression such as ^/(new|create)').optional(),
  methods: oneOrMore(
    'a method or a list of methods',
    z.enum(METHODS, { error: METHODS.join(', ') }),
  ).optional(),
  host: oneOrMore('a host or a list of hosts', text('a host such as admin.harbour.example')).optional(),
  from: oneOrMore('a network or a list of networks', text('a network such as 10.0.0.0/8')).optional(),
  scheme: choice(['https']).optional(),
  ...stated,
  ...shownHow,
});

const status = z
  .int({ error: 'a status such as 503' })
  .min(400, { error: 'a status of a refusal, from 400 on' })
  .max(599, { error: 'a status of a refusal, up to 599' });

export const barrier = section('a barrier', {
  name: text('a name'),
  stops: audience,
  answers: status.optional(),
  sends: path.optional(),
  lets: oneOrMore('a path or a list of paths', path).optional(),
  api: status.optional(),
  also: oneOrMore('login, sign-up or both', choice(['login', 'sign-up'])).optional(),
  returns: flag.optional(),
});

export const promise = section('a promise', {
  only: roleNames.optional(),
  reach: oneOrMore('a path or a list of paths', path).optional(),
  after: choice(PROMISE_EVENTS).optional(),
  copied: choice(CREDENTIALS).optional(),
  'works-at-most': duration(0).optional(),
  'access-lasts-at-most': duration(0).optional(),
  every: choice(['signed-in']).optional(),
  'within-steps': z
    .int({ error: 'a whole number' })
    .min(1, { error: 'at least one step' })
    .max(5, { error: 'at most 5 steps' })
    .optional(),
});
export type PromiseText = z.output<typeof promise>;

export const menuLink = section('a menu link', {
  to: path,
  text: text('the text of the link'),
  for: audience.optional(),
});

export const routing = section('routing', {
  'letter-case': choice(['same', 'ignored']).optional(),
  decodes: flag.optional(),
  'trailing-slash': choice(['same', 'different', 'redirected']).optional(),
  'encoded-slash': choice(['refused', 'kept']).optional(),
  'empty-segments': choice(['dropped', 'kept']).optional(),
  expressions: choice(['as-routed', 'as-sent']).optional(),
});
