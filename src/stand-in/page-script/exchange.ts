import type { Claims, Flight } from '../../core/browser/state.js';
import { respond, type Body, type HttpResponse } from '../../core/http/messages.js';

/** What a token response says (RFC 6749 §5.1), with what the stand-in adds for its own pages. */
export interface TokenJson {
  readonly access_token?: string;
  readonly expires_in?: number;
  readonly refresh_token?: string;
  readonly next?: string;
  readonly error?: string;
  readonly claims?: ClaimsJson;
}

interface ClaimsJson {
  readonly sub?: string;
  readonly roles?: readonly string[];
  readonly amr?: readonly string[];
}

/** The response to a request of script, and the page it ended at where it was redirected to one. */
export interface Received {
  readonly response: HttpResponse;
  readonly page: string | null;
}

/** Sends a request of script. With a token it goes without cookies, so that the token alone speaks for the visitor. */
export async function exchange({ request }: Flight): Promise<Received> {
  const isForm = request.form.size > 0;
  const answer = await fetch(request.path + request.query, {
    method: request.method,
    credentials: request.authorization === '' ? 'same-origin' : 'omit',
    headers: {
      accept: 'application/json',
      ...(request.authorization === '' ? {} : { authorization: request.authorization }),
    },
    ...(isForm ? { body: new URLSearchParams([...request.form]) } : {}),
  });
  const isJson = answer.headers.get('content-type')?.includes('json') === true;
  const json = isJson ? ((await answer.json()) as TokenJson) : {};
  return {
    response: respond(answer.status, { body: readBody(json, answer.status) }),
    page: answer.redirected ? answer.url : null,
  };
}

/** What a response to script carries, read from its JSON. */
export function readBody(json: TokenJson, status: number): Body {
  const next = json.next ?? null;
  if (json.expires_in !== undefined) {
    const accessToken = json.access_token ?? '';
    return {
      kind: 'tokens',
      accessToken,
      expiresIn: json.expires_in,
      refreshToken: json.refresh_token ?? null,
      claims: claimsOf(json.claims ?? inside(accessToken)),
      next,
    };
  }
  if (next !== null) return status < 400 ? { kind: 'next', next } : { kind: 'refused-login', next };
  return json.error === undefined ? { kind: 'empty' } : { kind: 'token-error', error: 'invalid_grant' };
}

/** What stands inside a signed token (RFC 7519 §3); script reads it, only the app can judge the signature. */
function inside(token: string): ClaimsJson {
  const [, payload = ''] = token.split('.');
  const bytes = Uint8Array.from(atob(payload.replaceAll('-', '+').replaceAll('_', '/')), (each) =>
    each.charCodeAt(0),
  );
  return JSON.parse(new TextDecoder().decode(bytes)) as ClaimsJson;
}

function claimsOf({ sub = '', roles = [], amr = [] }: ClaimsJson): Claims {
  return { account: sub, roles: new Set(roles), secondFactor: amr.includes('otp') };
}
