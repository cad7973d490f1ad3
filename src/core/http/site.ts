import { getDomain } from 'tldts';
import { hostOf } from './address.js';

/**
 * Whether two origins belong to one site: by the same scheme, and below the same name that somebody can register
 * (https://html.spec.whatwg.org/#same-site). Names under which strangers register are no sites (https://publicsuffix.org).
 */
export function isSameSite(one: string, other: string): boolean {
  return siteOf(one) === siteOf(other);
}

/** Whether strangers register names below a domain, so that no cookie may be for all of it (RFC 6265bis §5.7). */
export function isPublicSuffix(domain: string): boolean {
  return getDomain(domain, SUFFIXES) === null;
}

function siteOf(origin: string): string {
  const host = hostOf(origin);
  const scheme = origin.slice(0, origin.indexOf('://'));
  return `${scheme}://${getDomain(host, SUFFIXES) ?? host}`;
}

/** A site that is none of an app's. */
export const ANOTHER_SITE = 'https://wreckers.example';

/** Names that firms give their customers, such as those of pages of users, count too, as they do in browsers. */
const SUFFIXES = { allowPrivateDomains: true };
