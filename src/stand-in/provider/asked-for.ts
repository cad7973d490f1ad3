/** What is kept of a request is no longer than this. */
const MOST_CHARACTERS = 1024;
const KEPT = ['client_id', 'redirect_uri', 'nonce', 'code_challenge'];

/** What is wrong with a request for somebody, so that nobody can be sent back (RFC 6749 §4.1.2.1); null for nothing. */
export function faultOf(asked: URLSearchParams): string | null {
  if ((asked.get('client_id') ?? '') === '') return 'A request without client_id';
  const long = KEPT.find((name) => (asked.get(name)?.length ?? 0) > MOST_CHARACTERS);
  if (long !== undefined) return `A ${long} of more than ${MOST_CHARACTERS} characters`;
  const isOne = asked.getAll('redirect_uri').length < 2;
  return isOne && addressOf(asked.get('redirect_uri') ?? '') !== null
    ? null
    : 'A redirect_uri that is no address of this machine, or has a fragment';
}

/** The error that a client is told of by the address that it gave (RFC 6749 §4.1.2.1, §3.1); null for none. */
export function errorOf(asked: URLSearchParams): string | null {
  const names = [...asked.keys()].filter((name) => name !== 'person');
  if (new Set(names).size < names.length) return 'invalid_request';
  if (!asked.has('response_type')) return 'invalid_request';
  if (asked.get('response_type') !== 'code') return 'unsupported_response_type';
  const prompts = asked.get('prompt')?.split(' ') ?? [];
  if (prompts.includes('none') && prompts.length > 1) return 'invalid_request';
  const isPlain = asked.has('code_challenge') && asked.get('code_challenge_method') !== 'S256';
  return isPlain ? 'invalid_request' : null;
}

/**
 * An address of this machine as it stands in a header, in ASCII; null for any other, and for one with a fragment (RFC 6749 §3.1.2).
 *
 * @example addressOf('http://localhost:3000/büro') // 'http://localhost:3000/b%C3%BCro'
 */
export function addressOf(text: string): string | null {
  if (!URL.canParse(text)) return null;
  const { protocol, hostname, hash, href } = new URL(text);
  const isHere = protocol === 'http:' && /^(127\.\d+\.\d+\.\d+|localhost|\[::1\])$/.test(hostname);
  return isHere && hash === '' ? href : null;
}

/** The client of a token request (RFC 6749 §2.3.1), by its name alone, since none has a secret: that of a Basic header, or of the body. */
export function clientOf(authorization: string | undefined, body: URLSearchParams): string {
  const [, basic = ''] = /^Basic (.+)$/.exec(authorization ?? '') ?? [];
  const [name = ''] = Buffer.from(basic, 'base64').toString('utf8').split(':', 1);
  if (name === '') return body.get('client_id') ?? '';
  // It is form-encoded there.
  return new URLSearchParams(`client_id=${name.replaceAll('&', '%26')}`).get('client_id') ?? '';
}
