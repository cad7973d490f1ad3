// Step 2 of docs/proof-method.md: situations and moves.

import type { AppState, LinkSent } from '../../app/app.js';
import type { Cookie } from '../../browser/cookie-jar.js';
import type { Limits } from '../time/limits.js';
import type { Zone } from '../time/zone.js';

const AGES = { confirm: 'confirmationSent', reset: 'resetSent', 'sign-in': 'signInSent' } as const;

/** The largest age at which anything asks when a link was sent. */
export function linkLife(limits: Limits, { kind }: LinkSent): number {
  return limits[AGES[kind]];
}

/**
 * The numbers of the links that can still come to anything: whoever opens one opens the last that was sent to them. Of a link that
 * confirms an account it matters that it was used.
 */
export function linksLeft({ links }: AppState, limits: Limits, zone: Zone): number[] {
  const left = new Map<string, number>();
  links.forEach((link, index) => {
    if (link.kind === 'confirm') left.set(`confirm ${index}`, index);
    else left.set(`${link.kind} ${link.account}`, index);
  });
  return [...left.values()].filter((index) => {
    const link = links[index];
    if (link === undefined || link.kind === 'confirm') return true;
    return !link.used && zone.ages(link.sentAt).least < linkLife(limits, link);
  });
}

/** Whether a cookie tells which link a browser has asked for. */
export function isOfLink({ value }: Pick<Cookie, 'value'>): boolean {
  return value.startsWith('link-');
}
