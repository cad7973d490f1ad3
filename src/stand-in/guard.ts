import { isIP } from 'node:net';
import type { Site } from './site.js';
import { nameOf } from './requests.js';

type Headers = Readonly<Record<string, string | string[] | undefined>>;

const LOOPBACK: ReadonlySet<string> = new Set(['127.0.0.1', 'localhost', '[::1]']);

/**
 * Whether a request names a host that this server answers for. A page of another site that has its own name lead to
 * loopback is kept out by this.
 *
 * @param open whether it listens beyond loopback, so that any network address may be its name
 */
export function isForUs(headers: Headers, site: Site, open: boolean): boolean {
  const { host } = headers;
  if (typeof host !== 'string') return false;
  const name = nameOf(host);
  return LOOPBACK.has(name) || site.hosts.has(name) || (open && isIP(name.replace(/^\[|\]$/g, '')) !== 0);
}

/** Whether a request may steer: it comes from a page of this server, or shows the secret of this start. */
export function maySteer(headers: Headers, secret: string): boolean {
  const { host, origin, authorization } = headers;
  if (authorization === `Bearer ${secret}`) return true;
  return typeof host === 'string' && typeof origin === 'string' && origin === `http://${host}`;
}

/** Why a Cookie header cannot be taken: a cookie that the app reads came twice, and who is meant is anybody's guess. */
export function repeatedCookie(header: string, names: readonly string[]): string | null {
  const sent = header.split(';').map((pair) => pair.split('=', 1)[0]?.trim());
  return names.find((name) => sent.indexOf(name) !== sent.lastIndexOf(name)) ?? null;
}
