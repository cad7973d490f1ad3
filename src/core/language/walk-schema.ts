import * as z from 'zod';
import { REASONS } from '../app/reasons.js';
import { DEADLINES, LATER_DEADLINES } from '../walks/walk.js';
import { requestLine } from './access-schema.js';
import { choice, duration, oneOrMore, section, text } from './schema-parts.js';

const nothing = z.null({ error: 'nothing after the colon' });
const deadline = choice(DEADLINES, LATER_DEADLINES);
const address = text('an address such as /berths');

/** What a step can do. */
export const VERBS = {
  visit: address,
  follow: text('the address or the text of a menu link'),
  send: requestLine,
  login: z.union(
    [
      text('an account'),
      section(
        'a login step',
        {
          as: text('an account'),
          password: text('a password').optional(),
          role: text('a role of the account').optional(),
        },
        ['remember'],
      ),
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
  wait: z.union(
    [duration(0), section('a wait step', { past: deadline.optional(), 'short-of': deadline.optional() })],
    { error: 'a duration such as 30m, { past: a deadline } or { short-of: a deadline }' },
  ),
} as const;

const LATER_VERBS = [
  ...['back', 'new-tab', 'close-tab', 'close-browser', 'open-browser', 'clear-cookies', 'together'],
  ...['copy', 'restart-app', 'suspend', 'delete-account', 'set-roles', 'set-password'],
];

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
} as const;

const LATER_EXPECTATIONS = ['holds', 'lacks', 'expect-broken', 'reaches', 'from'];

const optional = <Shape extends z.ZodRawShape>(shape: Shape) => z.object(shape).partial().shape;

export const stepSchema = section(
  'a step',
  {
    ...optional(VERBS),
    ...optional(EXPECTATIONS),
    in: text('the name of a browser').optional(),
    'connects-from': text('a network address such as 10.1.2.3').optional(),
    named: text('a name').optional(),
  },
  [...LATER_VERBS, ...LATER_EXPECTATIONS],
);
export type StepText = z.output<typeof stepSchema>;

/** The list of walks, in a policy or in a file of walks. */
export const walksSchema = z.array(
  section('a walk', {
    name: text('the name of the walk'),
    steps: z
      .array(stepSchema, { error: 'a list of steps' })
      .min(1, { error: 'a walk has at least one step' }),
  }),
  { error: 'a list of walks' },
);

/** The shape of a file of walks. */
export const walkFileSchema = section('a file of walks', { walks: walksSchema });
