import type * as z from 'zod';
import type { ApiKeyRules } from './api-keys.js';
import type { Scope } from './text/name-reader.js';
import type { Policy } from './policy.js';
import { problem } from './text/problems.js';
import { choice, duration, section, text } from './text/schema-parts.js';
import type { Path } from './text/yaml-text.js';

/** The section `api-keys`: by what machines are known. */
export const apiKeys = section('api-keys', {
  sent: choice(['bearer', 'header', 'address']).optional(),
  name: text('the name of a header such as X-Api-Key, or of a query parameter').optional(),
  life: duration().optional(),
  overlap: duration(0).optional(),
});

const USUAL_NAMES = { bearer: 'authorization', header: 'x-api-key', address: 'key' } as const;
/** What every request has in a header of that name already. */
const TAKEN: ReadonlySet<string> = new Set([
  'accept',
  'authorization',
  'connection',
  'content-length',
  'content-type',
  'cookie',
  'host',
  'origin',
  'referer',
  'x-forwarded-for',
  'x-forwarded-proto',
]);

/** Reads by what machines are known. */
export function readApiKeys(
  { sent = 'bearer', name, life, overlap }: z.output<typeof apiKeys>,
  scope: Scope,
): ApiKeyRules {
  const at: Path = ['api-keys'];
  const fault = name === undefined ? null : keyNameFault(sent, name);
  if (fault !== null) {
    scope.report(problem('bad-value', { problem: fault }, scope.input.placeOf([...at, 'name'])));
  }
  const own = name ?? USUAL_NAMES[sent];
  return {
    at,
    sent,
    name: sent === 'address' ? own : own.toLowerCase(),
    life: life ?? null,
    overlap: overlap ?? 0,
  };
}

/** Why keys cannot be sent under a name; null where they can. RFC 9110 §5.1: a header's name is a token. */
export function keyNameFault(sent: ApiKeyRules['sent'], name: string): string | null {
  if (sent === 'bearer') return 'a bearer token has its place; name is for sent: header and sent: address';
  if (sent === 'address') {
    return /^[\w.~-]+$/.test(name) ? null : `${name} is no usable parameter; write letters, digits, - and _`;
  }
  if (!/^[A-Za-z0-9!#$%&'*+.^_`|~-]+$/.test(name)) return `${name} is no usable name of a header`;
  return TAKEN.has(name.toLowerCase())
    ? `${name} says something else; the key needs a header of its own`
    : null;
}

/** What a machine cannot have, and what the policy lacks for those that it names. */
export function requireKeys({ accounts, apiKeys: rules, providers }: Policy, { input, report }: Scope): void {
  for (const { at, name, key, alwaysOwesCode } of accounts.values()) {
    if (!key) continue;
    if (rules === null) {
      const because = `the account ${name} has a key`;
      report(problem('missing-section', { section: 'api-keys', because }, input.placeOf([...at, 'key'])));
    }
    if (alwaysOwesCode) {
      const says = `${name} has a key, and nobody to give a code`;
      report(problem('bad-value', { problem: says }, input.placeOf([...at, 'second-factor'])));
    }
    for (const provider of providers) {
      if (!provider.knows.has(name)) continue;
      const says = `${name} has a key, and does not come in by a provider`;
      report(problem('bad-value', { problem: says }, input.placeOf([...provider.at, 'knows', name])));
    }
  }
}
