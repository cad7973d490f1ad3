import { resolveAddress, targetOf } from '../http/address.js';
import type { HttpRequest } from '../http/messages.js';
import type { Login, Policy, ReturnRules } from '../language/policy.js';
import { normalisePath } from '../paths/normalise.js';
import { folded, foldedSegments } from '../paths/letter-case.js';
import { matches, segmentsOf, type Pattern } from '../paths/pattern.js';

/** Addresses that browsers read as another site although most do not look like it (https://url.spec.whatwg.org). */
export const FOREIGN = [
  'https://wreckers.example/',
  '//wreckers.example/',
  '///wreckers.example/',
  '/\\wreckers.example/',
  '\\\\wreckers.example/',
  // Tabs and line breaks are dropped, wherever they stand.
  '/\t/wreckers.example/',
  '/\n/wreckers.example/',
  'ht\ntps://wreckers.example/',
  // What stands before an @ is a user, not a host; a host may be written with escapes.
  'https://harbour.example@wreckers.example/',
  '//wreckers%2Eexample/',
];

/**
 * The address to send a visitor to after a login, as far as the policy accepts the one that came with the request; null
 * where it does not. `one-slash`, `leading-slash` and `anything` pass on what browsers may read as another site (CWE-601): they are
 * there to describe apps that do so.
 */
export function acceptedReturn(
  rules: Pick<ReturnRules, 'accept'>,
  asked: string,
  { origin, routing }: Pick<Policy, 'origin' | 'routing'>,
): string | null {
  const { accept } = rules;
  if (accept === 'never') return null;
  if (accept === 'anything') return asked;
  if (accept === 'leading-slash') return asked.startsWith('/') ? asked : null;
  // A slash that is not doubled: browsers still read `/\` as two.
  if (accept === 'one-slash') return /^\/(?!\/)/.test(asked) ? asked : null;
  const address = resolveAddress(asked, { origin, path: '/', query: '' });
  if (address === null || address.origin !== origin) return null;
  const path = normalisePath(address.path, routing);
  // Two slashes at the start would be another host to browsers.
  if (path === null || path.startsWith('//')) return null;
  const isListed = (pattern: Pattern) =>
    matches(folded(pattern, routing), foldedSegments(segmentsOf(path), routing));
  if (accept !== 'same-origin' && !accept.listed.some(isListed)) return null;
  return targetOf({ ...address, path });
}

/** The address that the form passes on; null for none. */
export function askedFor(rules: Login, request: HttpRequest): string | null {
  return rules.return?.kept === 'address' ? (request.form.get(rules.return.param) ?? null) : null;
}
