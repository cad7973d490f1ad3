import { text } from '../language/text/schema-parts.js';
import { condition } from './condition.js';
import { checkParameter } from './parameters.js';

/** Is the account that a parameter of the path names; null where it does not matter. */
export const account = condition<string | null, string>({
  key: 'account',
  schema: () => text('the name of a path parameter'),
  nothing: null,
  isAsked: (parameter) => parameter !== null,
  read(parameter, at, { patterns, scope }) {
    checkParameter(parameter, at, patterns, scope);
    return parameter;
  },
  reason: 'not-owner',
  admits: (parameter, visitor, { parameters }) =>
    parameter === null || parameters.get(parameter) === visitor.account,
  changes(parameter, visitor, { parameters }) {
    const owner = parameter === null ? undefined : parameters.get(parameter);
    if (owner === undefined || owner === visitor.account) return [];
    return [{ step: { change: 'be', account: owner }, after: { account: owner } }];
  },
  compare({ before, after }) {
    if (before === after) return [];
    return before === null ? ['tightens'] : after === null ? ['loosens'] : ['changes'];
  },
  words: (parameter) => (parameter === null ? [] : [`the account that the path names as :${parameter}`]),
  // Which parameter it is tells no more than that there is one: pages with the same class have it in places of their own.
  keyed: (parameter) => parameter !== null,
  isOfPeople: true,
  own: (parameter, { name }) => (parameter === null ? [] : [[parameter, [name]]]),
  apartFromPath: () => null,
});
