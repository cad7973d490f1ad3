import type { AppAddress } from './app-address.js';

/**
 * A Set-Cookie header of the app as it would be under the policy's origin: without the base path, for the policy's host where it names
 * the app's, and with a life in seconds instead of a date, which is one on the app's own clock.
 *
 * @param now the app's clock, in milliseconds since 1970
 */
export function cookieInPolicy(header: string, address: AppAddress, home: string, now: number): string {
  const [pair = '', ...attributes] = header.split(';');
  const host = new URL(address.at).hostname;
  const hasLife = attributes.some((each) => /^\s*max-age\s*=/i.test(each));
  const written = attributes.map((attribute) => {
    const [name = '', value = ''] = attribute.trim().split(/=(.*)/s, 2);
    switch (name.toLowerCase()) {
      case 'path':
        return `Path=${address.withoutBase(value) ?? value}`;
      case 'domain':
        return value.replace(/^\./, '') === host ? `Domain=${new URL(home).hostname}` : `Domain=${value}`;
      case 'expires': {
        const end = Date.parse(value);
        return hasLife || Number.isNaN(end) ? attribute.trim() : `Max-Age=${Math.round((end - now) / 1000)}`;
      }
      default:
        return attribute.trim();
    }
  });
  return [pair, ...written].join('; ');
}
