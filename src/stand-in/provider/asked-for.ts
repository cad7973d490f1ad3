/** What is wrong with a request for somebody, so that nobody can be sent back (RFC 6749 §4.1.2.1); null for nothing. */
export function faultOf(asked: URLSearchParams): string | null {
  if ((asked.get('client_id') ?? '') === '') return 'A request without client_id';
  const isOne = asked.getAll('redirect_uri').length < 2 && isLoopback(asked.get('redirect_uri') ?? '');
  return isOne ? null : 'A redirect_uri that is no address of this machine';
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

/** Whether an address is one of this machine. */
export function isLoopback(address: string): boolean {
  try {
    const { protocol, hostname } = new URL(address);
    return protocol === 'http:' && /^(127\.\d+\.\d+\.\d+|localhost|\[::1\])$/.test(hostname);
  } catch {
    return false;
  }
}
