import * as z from 'zod';
import { condition } from './condition.js';

/** Has given a one-time code since the login. */
export const secondFactor = condition<boolean, true>({
  key: 'second-factor',
  schema: () => z.literal(true, { error: 'true: leave it out where no code is asked for' }),
  nothing: false,
  isAsked: (isAsked) => isAsked,
  read: (written) => written,
  reason: 'code-needed',
  admits: (isAsked, visitor) => !isAsked || visitor.secondFactor,
  changes: (isAsked, visitor) =>
    isAsked && !visitor.secondFactor
      ? [{ step: { change: 'give-code' }, after: { secondFactor: true } }]
      : [],
  compare: ({ before, after }) => (before === after ? [] : [after ? 'tightens' : 'loosens']),
  words: (isAsked) => (isAsked ? ['with a one-time code'] : []),
  keyed: (isAsked) => isAsked,
});
