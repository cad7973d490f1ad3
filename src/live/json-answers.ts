/** The names under which tokens usually come (RFC 6749 §5.1 first). */
export const USUAL_NAMES = {
  access: ['access_token', 'accessToken', 'access', 'token', 'jwt'],
  refresh: ['refresh_token', 'refreshToken', 'refresh'],
} as const;

/** What stands at a pointer of a value (RFC 6901 §4); undefined where there is nothing. */
export function valueAt(value: unknown, pointer: string): unknown {
  if (pointer === '') return value;
  let here = value;
  for (const part of pointer.slice(1).split('/')) {
    const key = part.replaceAll('~1', '/').replaceAll('~0', '~');
    if (typeof here !== 'object' || here === null || !Object.hasOwn(here, key)) return undefined;
    here = Reflect.get(here, key);
  }
  return here;
}

/** A text read as JSON; undefined for what is none. */
export function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** The text at a pointer of a JSON text, or under one of some names at its top; null for none. */
export function tokenIn(body: string, pointer: string | null, usual: readonly string[]): string | null {
  const value = parsed(body);
  const found =
    pointer === null ? usual.map((name) => valueAt(value, `/${name}`)) : [valueAt(value, pointer)];
  const text = found.find((each) => typeof each === 'string' && each !== '');
  return typeof text === 'string' ? text : null;
}

/** How long an access token is good: as the answer says (RFC 6749 §5.1), or the token itself (RFC 7519 §4.1.4); in seconds. */
export function expiresIn(body: string, token: string): number | null {
  const value = parsed(body);
  const said = [valueAt(value, '/expires_in'), valueAt(value, '/expiresIn')].find(
    (each) => typeof each === 'number',
  );
  if (typeof said === 'number') return said;
  const inside = claimsIn(token);
  const [from, to] = [valueAt(inside, '/iat'), valueAt(inside, '/exp')];
  return typeof from === 'number' && typeof to === 'number' ? to - from : null;
}

/** What stands in a JWT (RFC 7519 §3); undefined for what is none. */
export function claimsIn(token: string): unknown {
  const [, payload, signature] = token.split('.');
  if (payload === undefined || signature === undefined) return undefined;
  return parsed(Buffer.from(payload, 'base64url').toString('utf8'));
}
