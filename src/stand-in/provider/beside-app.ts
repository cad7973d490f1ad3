import type { FastifyReply } from 'fastify';
import type { Entry, Site } from '../site.js';
import type { Wire } from '../wire.js';
import { startProvider, type ProviderServer } from './provider-server.js';

/** What the providers have of the stand-in's own options. */
interface BesideOptions {
  readonly host: string;
  readonly assets: { readonly style: string };
  readonly log?: (entry: Entry) => void;
}

/**
 * Starts every identity provider of the policy beside its app, which is there already, and lets the app know where they are.
 *
 * @param wire the wire of the app, which is another after a reset
 */
export async function startProviders(
  site: Site,
  wire: () => Wire,
  { host, assets: { style }, log = () => undefined }: BesideOptions,
): Promise<readonly ProviderServer[]> {
  const { providers } = site.policy;
  const started = await Promise.all(
    providers.map((provider) => startProvider({ provider, site, wire, host, app: site.address, style, log })),
  );
  providers.forEach(({ name }, at) => site.providers.set(name, started[at]?.address ?? ''));
  return started;
}

/** Lets forms lead on to the providers, as a logout may: Chromium holds the redirects of a form to `form-action` too. */
export function letOnToProviders(reply: FastifyReply, { providers }: Site): void {
  if (providers.size === 0) return;
  const policy = String(reply.getHeader('content-security-policy'));
  const wider = policy.replace(
    "form-action 'self'",
    `form-action 'self' ${[...providers.values()].join(' ')}`,
  );
  void reply.header('content-security-policy', wider);
}
