import * as z from 'zod';
import { REASONS } from '../app/reasons.js';
import { DEADLINES } from '../walks/walk.js';
import { requestLine } from './access-schema.js';
import { CREDENTIALS } from './policy.js';
import { LAW_NAMES } from '../laws/law-names.js';
import { choice, duration, flag, oneOrMore, section, text } from './schema-parts.js';

const nothing = z.null({ error: 'nothing after the colon' });
const deadline = choice(DEADLINES);
const inFlight = z.union(
  [requestLine, section('a request in flight', { send: requestLine, tab: choice(['front', 'behind']) })],
  { error: 'a request such as GET /api/ledger, or { send: GET /api/ledger, tab: behind }' },
);
const address = text('an address such as /berths');

const FEW_PAGES = 'nothing after the colon, or how many pages back, 1 to 50';

/** What a step can do. */
export const VERBS = {
  visit: address,
  follow: text('the address or the text of a menu link'),
  send: requestLine,
  together: z
    .array(inFlight, { error: 'a list of requests such as GET /api/ledger' })
    .min(2, { error: 'together takes two or three requests' })
    .max(3, {
      error:
        'together takes two or three requests: with more, the orders in which they can arrive are too many',
    }),
  login: z.union(
    [
      text('an account'),
      section('a login step', {
        as: text('an account'),
        password: text('a password').optional(),
        role: text('a role of the account').optional(),
        remember: flag.optional(),
      }),
    ],
    {
      error: 'an account, or a map such as { as: ines, password: wrong }',
    },
  ),
  code: choice(['right', 'wrong', 'late']),
  'sign-up': section('a sign-up step', { as: text('a new account'), password: text('a password') }),
  confirm: text('an account that signed up'),
  logout: nothing,
  reload: nothing,
  back: z.union([nothing, z.int().min(1, { error: FEW_PAGES }).max(50, { error: FEW_PAGES })], {
    error: FEW_PAGES,
  }),
  'new-tab': nothing,
  'close-tab': nothing,
  'close-browser': nothing,
  'open-browser': nothing,
  'clear-cookies': z.union([nothing, text('the name of a cookie')], {
    error: 'nothing after the colon, or the name of a cookie',
  }),
  copy: section('a copy step such as { what: session, to: thief }', {
    what: choice(CREDENTIALS),
    to: text('the name of a browser'),
  }),
  plant: section('a plant step such as { what: session, in: browser }', {
    what: choice(CREDENTIALS),
    in: text('the name of a browser'),
  }),
  'restart-app': nothing,
  suspend: text('an account'),
  'delete-account': text('an account'),
  'set-roles': section('a set-roles step', {
    as: text('an account'),
    roles: z.array(text('a role'), { error: 'a list of roles' }),
  }),
  'set-password': section('a set-password step', { as: text('an account'), password: text('a password') }),
  wait: z.union(
    [duration(0), section('a wait step', { past: deadline.optional(), 'short-of': deadline.optional() })],
    { error: 'a duration such as 30m, { past: session-idle } or { short-of: session-idle }' },
  ),
} as const;

const credentials = oneOrMore('session, access, refresh, remember or a list of them', choice(CREDENTIALS));

/** What a step can expect. */
export const EXPECTATIONS = {
  lands: text('an address such as /berths'),
  status: z
    .int({ error: 'a status such as 200' })
    .min(100, { error: 'a status has three digits' })
    .max(599, { error: 'a status has three digits, up to 599' }),
  'seen-as': text('an account or guest'),
  why: choice(REASONS),
  via: z.array(address, { error: 'a list of addresses' }),
  session: choice(['live', 'none']),
  refreshes: z.int({ error: 'a whole number' }).min(0, { error: 'a count is 0 or more' }),
  shows: oneOrMore('a menu link or a list of them', address),
  hides: oneOrMore('a menu link or a list of them', address),
  holds: credentials,
  lacks: credentials,
  reaches: z.array(address, { error: 'a list of the paths of pages' }),
} as const;

const optional = <Shape extends z.ZodRawShape>(shape: Shape) => z.object(shape).partial().shape;

const brokenLaws = oneOrMore('a law or a list of laws', choice(LAW_NAMES));

export const stepSchema = section('a step', {
  ...optional(VERBS),
  ...optional(EXPECTATIONS),
  in: text('the name of a browser').optional(),
  from: text('a site such as https://mail.example').optional(),
  'connects-from': text('a network address such as 10.1.2.3').optional(),
  named: text('a name').optional(),
  'expect-broken': brokenLaws.optional(),
});
export type StepText = z.output<typeof stepSchema>;

const walkSchema = section('a walk', {
  name: text('the name of the walk'),
  'expect-broken': brokenLaws.optional(),
  steps: z.array(stepSchema, { error: 'a list of steps' }).min(1, { error: 'a walk has at least one step' }),
});
export type WalkText = z.output<typeof walkSchema>;

/** The list of walks, in a policy or in a file of walks. */
export const walksSchema = z.array(walkSchema, { error: 'a list of walks' });

/** The shape of a file of walks. */
export const walkFileSchema = section('a file of walks', { walks: walksSchema });
