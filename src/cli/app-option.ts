import { isLoopback } from './loopback.js';
import { Refused } from './status.js';

/**
 * Reads the address of an app that somebody names: `http://127.0.0.1:3000/base`, or without a scheme where it is this machine.
 * Gives origin and base path, without a slash at the end.
 *
 * @param allowed the host that may be asked though it is not this machine
 * @throws Refused with what to write
 */
export function appAddress(text: string, allowed: string | undefined): string {
  const url = urlOf(text);
  if (url === null) {
    throw new Refused(`${text} is no address of an app: write it as in --at http://127.0.0.1:3000`);
  }
  if (url.username !== '' || url.password !== '') {
    throw new Refused('an address of an app has no name and password in it: leave them out of --at');
  }
  const host = hostOf(url);
  if (!isLoopback(host) && allowed !== host) {
    throw new Refused(`${host} is not this machine: say --allow-host ${host} where it may be asked`);
  }
  return url.origin + url.pathname.replace(/\/+$/, '');
}

function urlOf(text: string): URL | null {
  const full = `http://${text}`;
  // Without a scheme `localhost:3000` would be one itself.
  const isBare =
    !/^[a-z][a-z\d+.-]*:\/\//i.test(text) && URL.canParse(full) && isLoopback(hostOf(new URL(full)));
  const address = isBare ? full : text;
  if (!/^https?:\/\//i.test(address) || !URL.canParse(address)) return null;
  return new URL(address);
}

function hostOf({ hostname }: URL): string {
  return hostname.replace(/^\[|\]$/g, '');
}
