import * as z from 'zod';
import { mapOf, oneOrMore } from '../language/text/schema-parts.js';

/** Facts are compared as text, so that `deck: 3` and `deck: '3'` are one. */
const factValue = z
  .union([z.string(), z.number(), z.boolean()], { error: 'a text, a number, true or false' })
  .transform((value) => String(value));
export const facts = mapOf(
  'a map of facts such as { basin: east }',
  oneOrMore('a text, a number, true, false or a list of them', factValue),
);
export type FactsText = z.output<typeof facts>;
/** Facts that somebody is given; one that is left empty is taken away. */
export const factChanges = mapOf(
  'a map of facts such as { terms: accepted }',
  z
    .union([z.null(), oneOrMore('a text, a number, true, false or a list of them', factValue)], {
      error: 'a text, a number, true, false or a list of them; nothing takes the fact away',
    })
    .transform((values) => values ?? []),
);

/** How a switch of the app stands. */
export const switched = z
  .union([z.literal(['on', 'off']), z.boolean()], { error: 'on or off' })
  .transform((value) => value === true || value === 'on');
export const flags = mapOf('a map of flags such as { maintenance: off }', switched);
