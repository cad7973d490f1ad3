import type * as z from 'zod';
import { requestLine } from './access-schema.js';
import { readEndpoint } from './endpoint-reader.js';
import { checkName, readOrigin, type Scope } from './text/name-reader.js';
import type { Account, IdentityProvider, Policy } from './policy.js';
import { problem } from './text/problems.js';
import { choice, duration, flag, mapOf, section, text } from './text/schema-parts.js';
import { nearest } from './text/suggestions.js';
import type { Path } from './text/yaml-text.js';

const CHECKED = choice(['checked', 'ignored', 'absent']);

/** The section `identity-providers`: whom other sites sign in (OpenID Connect Core §3.1). */
export const identityProviders = mapOf(
  'a map of providers, such as { port-id: { issuer: https://id.port.example, start: GET /auth/port-id, back: GET /auth/port-id/back } },',
  section('an identity provider', {
    issuer: text('the origin of the provider, such as https://id.port.example'),
    start: requestLine,
    back: requestLine,
    state: CHECKED.optional(),
    pkce: flag.optional(),
    nonce: CHECKED.optional(),
    knows: mapOf('a map of accounts, each with what the provider calls it,', text('an address')).optional(),
    matches: choice(['subject', 'confirmed-address', 'address']).optional(),
    unknown: choice(['refuse', 'sign-up']).optional(),
    code: choice(['asked', 'given']).optional(),
    session: duration().optional(),
    logout: choice(['app-only', 'provider-too']).optional(),
    'asks-again': flag.optional(),
  }),
);

type ProvidersText = z.output<typeof identityProviders>;

/** Reads the providers by whose word people come in. */
export function readProviders(
  text: ProvidersText,
  accounts: ReadonlyMap<string, Account>,
  scope: Scope,
): IdentityProvider[] {
  return Object.entries(text).map(([name, each]) => {
    const at: Path = ['identity-providers', name];
    checkName(name, 'identity provider', scope.input.placeOfKey(['identity-providers'], name), scope.report);
    return {
      at,
      name,
      issuer: readOrigin(each.issuer, [...at, 'issuer'], scope),
      start: readGet(each.start, [...at, 'start'], scope),
      back: readGet(each.back, [...at, 'back'], scope),
      state: each.state ?? 'checked',
      pkce: each.pkce ?? true,
      nonce: each.nonce ?? 'checked',
      knows: readKnown(each.knows ?? {}, accounts, [...at, 'knows'], scope),
      matches: each.matches ?? 'subject',
      unknown: each.unknown ?? 'refuse',
      code: each.code ?? 'asked',
      session: each.session ?? null,
      logout: each.logout ?? 'app-only',
      asksAgain: each['asks-again'] ?? false,
    };
  });
}

/** Each provider is a site of its own. */
export function requireOtherOrigins({ origin, hosts, providers }: Policy, { input, report }: Scope): void {
  const taken = new Map([origin, ...hosts.map((host) => `https://${host}`)].map((each) => [each, 'the app']));
  for (const { at, name, issuer } of providers) {
    const by = taken.get(issuer);
    if (by !== undefined) {
      const says = `${issuer} is where ${by} is; an identity provider has an origin of its own`;
      report(problem('bad-value', { problem: says }, input.placeOf([...at, 'issuer'])));
    }
    taken.set(issuer, name);
  }
}

/** People are sent there and back by redirects, so that both are read. */
function readGet(request: ProvidersText[string]['start'], at: Path, scope: Scope) {
  const endpoint = readEndpoint(request, at, scope);
  if (endpoint.method !== 'GET') {
    const says = `people are sent there by redirects; write GET ${endpoint.path}`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return endpoint;
}

function readKnown(
  text: Readonly<Record<string, string>>,
  accounts: ReadonlyMap<string, Account>,
  at: Path,
  scope: Scope,
): ReadonlyMap<string, string> {
  const known = new Map<string, string>();
  for (const [name, address] of Object.entries(text)) {
    if (!accounts.has(name)) {
      const near = nearest(name, accounts.keys());
      scope.report(problem('unknown-account', { name, near }, scope.input.placeOfKey(at, name)));
    }
    known.set(name, address);
  }
  return known;
}
