import { recordOf } from '../vocabulary/tables.js';
import * as z from 'zod';
import { REASONS } from '../app/reasons.js';
import { address } from '../steps/step-schemas.js';
import { ANY_STEPS, type Verb } from '../steps/all-steps.js';
import { CREDENTIALS } from '../vocabulary/credentials.js';
import { LAW_NAMES } from '../vocabulary/law-names.js';
import { choice, oneOrMore, section, text } from '../language/text/schema-parts.js';

/** What a step can do, by its key. */
const SCHEMAS = new Map(ANY_STEPS.map((kind) => [kind.verb, kind.schema()]));
const VERBS = recordOf<Verb, z.ZodType>([...SCHEMAS.keys()], (verb) => SCHEMAS.get(verb) ?? z.never());

const credentials = oneOrMore(`${CREDENTIALS.join(', ')} or a list of them`, choice(CREDENTIALS));

/** What a step can expect. */
export const EXPECTATIONS = {
  lands: text('an address such as /berths'),
  status: z
    .int({ error: 'a status such as 200' })
    .min(100, { error: 'a status has three digits' })
    .max(599, { error: 'a status has three digits, up to 599' }),
  'seen-as': text('an account or guest'),
  'acted-by': text('an account or nobody'),
  why: choice(REASONS),
  via: z.array(address, { error: 'a list of addresses' }),
  session: choice(['live', 'none']),
  refreshes: z.int({ error: 'a whole number' }).min(0, { error: 'a count is 0 or more' }),
  shows: oneOrMore('a menu link, a part of a page or a list of them', text('a menu link or a part')),
  hides: oneOrMore('a menu link, a part of a page or a list of them', text('a menu link or a part')),
  holds: credentials,
  lacks: credentials,
  reaches: z.array(address, { error: 'a list of the paths of pages' }),
} as const;

const optional = <Shape extends z.ZodRawShape>(shape: Shape) => z.object(shape).partial().shape;

const brokenLaws = oneOrMore('a law or a list of laws', choice(LAW_NAMES));

export const stepSchema = section(
  'a step',
  {
    ...optional(VERBS),
    ...optional(EXPECTATIONS),
    in: text('the name of a browser').optional(),
    from: text('a site such as https://mail.example').optional(),
    'connects-from': text('a network address such as 10.1.2.3').optional(),
    named: text('a name').optional(),
    'expect-broken': brokenLaws.optional(),
  },
  [
    { what: 'A step does one of', keys: Object.keys(VERBS) },
    { what: 'It can expect', keys: [...Object.keys(EXPECTATIONS), 'expect-broken'] },
    { what: 'It also takes', keys: ['in', 'from', 'connects-from', 'named'] },
  ],
);
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
