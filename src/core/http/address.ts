/** Where a request goes: the parts of a URL that reach a server. */
export interface Address {
  readonly origin: string;
  readonly path: string;
  /** With its question mark; empty where there is none. */
  readonly query: string;
}

/**
 * Resolves a reference as a browser does (https://url.spec.whatwg.org); the fragment is dropped, since it is never sent.
 * Gives null for what is no URL.
 *
 * @example resolveAddress('//evil.example', { origin: 'https://a.example', path: '/', query: '' }) // on evil.example
 */
export function resolveAddress(reference: string, base: Address): Address | null {
  if (PLAIN.test(reference)) return splitPath(base.origin, reference);
  const from = base.origin + base.path + base.query;
  const url = parseUrl(reference, from);
  return url && { origin: url.origin, path: url.pathname, query: url.search };
}

/** Parses a URL; null for what is none. (`URL.canParse` cannot be asked: in Node 20 it errs on letters beyond ASCII.) */
export function parseUrl(text: string, base?: string): URL | null {
  try {
    return new URL(text, base);
  } catch {
    return null;
  }
}

/** A rooted reference that resolution leaves as it is: no second slash, dot segment, escape, fragment or odd character. */
const PLAIN = /^\/(?!\/)(?:[\w\-~!$&()*+,;=:@/]|(?<!\/)\.)*(?:\?[\w\-.~!$&()*+,;=:@/?%]*)?$/;

function splitPath(origin: string, target: string): Address {
  const mark = target.indexOf('?');
  if (mark < 0) return { origin, path: target, query: '' };
  const query = target.length === mark + 1 ? '' : target.slice(mark);
  return { origin, path: target.slice(0, mark), query };
}

/** Path and query, as a Location header or a reader sees them. */
export function targetOf(address: Address): string {
  return address.query === '' ? address.path : address.path + address.query;
}

/**
 * A reference as browsers send it: what is beyond ASCII as its bytes in UTF-8 (RFC 3987 §3.1), and signs that no reference has
 * (RFC 3986 §2) as the URL standard encodes them, both percent-encoded.
 *
 * @example encodedReference('/a<b?c={d}') // '/a%3Cb?c={d}'
 */
export function encodedReference(written: string): string {
  const [path = '', ...query] = written.toWellFormed().split('?');
  const encoded = path.replace(/[\P{ASCII}"<>`{}]+/gu, encodeURIComponent);
  const asked = query.map((part) => part.replace(/[\P{ASCII}"<>]+/gu, encodeURIComponent));
  return [encoded, ...asked].join('?');
}

/** An address for people: without the origin where it is the usual one. */
export function shownAddress(address: Address, home: string): string {
  return address.origin === home ? targetOf(address) : address.origin + targetOf(address);
}

/** Adds a parameter to an address that may have a query already. Slashes stay readable (RFC 3986 §3.4 allows them). */
export function withParameter(target: string, name: string, value: string): string {
  const encoded = encodeURIComponent(value.toWellFormed()).replaceAll('%2F', '/');
  return `${target}${target.includes('?') ? '&' : '?'}${encodeURIComponent(name)}=${encoded}`;
}

/**
 * An address without the slash at the end of its path, and of paths that its query carries.
 *
 * @example withoutEndSlashes('/in/?next=/office/') // '/in?next=/office'
 */
function withoutEndSlashes(address: string): string {
  return address
    .replace(/^([^?]*[^/?])\/(?=\?|$)/, '$1')
    .replace(/(=(?:\/|%2F)[^&]*?[^&/])(?:\/|%2F)(?=&|$)/gi, '$1');
}

/** How an app reads addresses: a slash at the end does not count where it is the same with and without. */
export function addressReader({
  trailingSlash,
}: {
  readonly trailingSlash: string;
}): (address: string) => string {
  return trailingSlash === 'same' ? withoutEndSlashes : (address) => address;
}

/** Whether two queries, each with its question mark, hold the same parameters once decoded, in whatever order. */
export function sameQuery(one: string, other: string): boolean {
  return one === other || decodedPairs(one).join('&') === decodedPairs(other).join('&');
}

function decodedPairs(query: string): string[] {
  return queryParameters(query)
    .map((pair) => JSON.stringify(pair))
    .sort();
}

/** The parameters of a query, with or without its question mark, decoded as a form is. */
export function queryParameters(query: string): (readonly [name: string, value: string])[] {
  return query
    .replace(/^\?/, '')
    .split('&')
    .filter((part) => part !== '')
    .map((part) => {
      const [key = '', ...value] = part.split('=');
      return [decodeForm(key), decodeForm(value.join('='))] as const;
    });
}

/** The first value of a query parameter, decoded as a form is (https://url.spec.whatwg.org/#urlencoded-parsing). */
export function parameterOf(query: string, name: string): string | null {
  if (query === '') return null;
  for (const part of query.slice(1).split('&')) {
    const [key = '', ...value] = part.split('=');
    if (decodeForm(key) === name) return decodeForm(value.join('='));
  }
  return null;
}

function decodeForm(text: string): string {
  if (!/[%+]/.test(text)) return text;
  const spaced = text.replaceAll('+', ' ');
  try {
    return decodeURIComponent(spaced);
  } catch {
    // A broken escape stands for itself, as the URL standard has it.
    return spaced;
  }
}

const hosts = new Map<string, string>();

/** The host of an origin, without its port. It is asked for each cookie, and of few origins. */
export function hostOf(origin: string): string {
  const known = hosts.get(origin);
  if (known !== undefined) return known;
  const start = origin.indexOf('//') + 2;
  const port = origin.lastIndexOf(':');
  // The colons inside the brackets of an IPv6 address start no port, nor does that of the scheme.
  const hasPort = port > start && port > origin.lastIndexOf(']');
  const host = hasPort ? origin.slice(start, port) : origin.slice(start);
  if (hosts.size >= 100) hosts.clear();
  hosts.set(origin, host);
  return host;
}
