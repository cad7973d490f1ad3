import * as z from 'zod';
import { text } from '../language/text/schema-parts.js';

// What the schemas of several steps are made of.

/** Nothing, for a step that is all said by its key. */
export const nothing = z.null({ error: 'nothing after the colon' });

/** An address as somebody types it. */
export const address = text('an address such as /berths');

/** An account of the policy, or one that the walk has signed up. */
export const account = text('an account');
