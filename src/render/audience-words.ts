import { formatDuration, type Audience } from '../core/internal.js';

/** An audience in words: `bursar or harbourmaster, with a one-time code`. */
export function audienceWords(audience: Audience): string {
  if (audience.who !== 'some') return audience.who;
  const { any, all, none, facts, account, secondFactor, loginWithin } = audience;
  const parts = [
    ...(any === null ? [] : [any.join(' or ')]),
    ...(all.length === 0 ? [] : [`${all.length > 1 ? 'all of ' : ''}${all.join(' and ')}`]),
    ...(none.length === 0 ? [] : [`not ${none.join(' nor ')}`]),
    ...[...facts].map(([name, value]) => `with ${name} ${value}`),
    ...(account === null ? [] : [`the account that the path names as :${account}`]),
    ...(secondFactor ? ['with a one-time code'] : []),
    ...(loginWithin === null ? [] : [`with a login within ${formatDuration(loginWithin)}`]),
  ];
  return parts.length === 0 ? 'signed-in' : parts.join(', ');
}
