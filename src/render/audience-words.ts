import { formatDuration, type AskedFact, type Audience } from '../core/internal.js';

/** An audience in words: `bursar or harbourmaster, with a one-time code`. */
export function audienceWords(audience: Audience): string {
  if (audience.who !== 'some') return audience.who;
  const { any, all, none, facts, account, flags, joinedWithin, secondFactor, loginWithin } = audience;
  const parts = [
    ...(any === null ? [] : [any.join(' or ')]),
    ...(all.length === 0 ? [] : [`${all.length > 1 ? 'all of ' : ''}${all.join(' and ')}`]),
    ...(none.length === 0 ? [] : [`not ${none.join(' nor ')}`]),
    ...[...facts].map(([name, asked]) => `with ${factWords(name, asked)}`),
    ...(account === null ? [] : [`the account that the path names as :${account}`]),
    ...(secondFactor ? ['with a one-time code'] : []),
    ...(loginWithin === null ? [] : [`with a login within ${formatDuration(loginWithin)}`]),
    ...(joinedWithin === null ? [] : [`who joined within ${formatDuration(joinedWithin)}`]),
    ...(flags.size === 0 ? [] : [`while ${flagWords(flags).join(' and ')}`]),
  ];
  const isOfRoles = any !== null || all.length > 0 || none.length > 0 || account !== null;
  return isOfRoles ? parts.join(', ') : ['signed-in', ...parts].join(', ');
}

/** What is asked of a fact: `basin east or basin west`, `the club that the path names in :club`. */
function factWords(name: string, { values, parameters }: AskedFact): string {
  return [
    ...values.map((value) => `${name} ${value}`),
    ...parameters.map((each) => `the ${name} that the path names in :${each}`),
  ].join(' or ');
}

/** How switches stand: `maintenance is on`. */
function flagWords(flags: ReadonlyMap<string, boolean>): string[] {
  return [...flags].map(([name, isOn]) => `${name} is ${isOn ? 'on' : 'off'}`);
}
