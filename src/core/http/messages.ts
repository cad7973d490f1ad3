import type { Refusals } from '../vocabulary/refusal.js';
import type { Audience } from '../vocabulary/audience.js';

/** Request methods (RFC 9110 §9). */
export const METHODS = ['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;
export type Method = (typeof METHODS)[number];

/** Whether a text is a request method of the language. */
export function isMethod(text: string): text is Method {
  return (METHODS as readonly string[]).includes(text);
}

/** Whether a method only reads (RFC 9110 §9.2.1). */
export function isSafe(method: Method): boolean {
  return method === 'GET' || method === 'HEAD' || method === 'OPTIONS';
}

/** A request as it crosses from browser to app. Strings that are absent are empty. */
export interface HttpRequest {
  readonly method: Method;
  readonly origin: string;
  /** The path as sent, not normalised. */
  readonly path: string;
  /** The query with its question mark. */
  readonly query: string;
  /** The Cookie header (RFC 6265 §5.4). */
  readonly cookie: string;
  /** The Authorization header (RFC 6750 §2.1). */
  readonly authorization: string;
  /** The header in which machines show their key, where the app has one of its own. */
  readonly apiKey: string;
  /** What is asked for: a page for a person, or data for script. */
  readonly accept: 'text/html' | 'application/json';
  /** The address of the page that a form was sent from (RFC 9110 §10.1.3). */
  readonly referer: string;
  /** The network address that it came from. */
  readonly client: string;
  /** Whether a page of another origin had it sent, as the Origin header or that of Fetch Metadata says (RFC 6454 §7). */
  readonly crossOrigin: boolean;
  /** The fields of a form body. */
  readonly form: ReadonlyMap<string, string>;
}

/** The forms that people fill in. */
export type FormName =
  LoginForm | `with ${string}` | 'sign-up' | 'code' | 'change-password' | 'ask-reset' | 'reset' | 'ask-link';

/** The form of the first login, or of another by its name. */
export type LoginForm = 'login' | `login ${string}`;

/** A response as it crosses back. */
export interface HttpResponse {
  readonly status: number;
  /** The Location header, a reference relative to the request's URL (RFC 9110 §10.2.2). */
  readonly location: string | null;
  /** One entry for each Set-Cookie header (RFC 6265 §4.1). */
  readonly setCookie: readonly string[];
  /** The Allow header of a 405 (RFC 9110 §10.2.1). */
  readonly allow: readonly Method[];
  /** The WWW-Authenticate header of a 401 (RFC 9110 §11.6.1). */
  readonly authenticate: string | null;
  /** Whether it must not be stored (RFC 9111 §5.2.2.5), so that the back button asks again. */
  readonly noStore: boolean;
  readonly body: Body;
}

/** The challenge where a token is good and its login too old, or without its code (RFC 9470 §3). */
export const LOGIN_WANTED = 'Bearer error="insufficient_user_authentication"';

/** What a response carries. */
export type Body =
  | { readonly kind: 'empty' }
  /** The page that was asked for. */
  | {
      readonly kind: 'page';
      /** The account whose page it is, as every page says; null for a guest. */
      readonly reader: string | null;
      /** Who acts for that account; null where nobody does. */
      readonly actor: string | null;
      /** The addresses of the links in its menu. */
      readonly menu: readonly string[];
      /** The names of those of its parts that its reader sees. */
      readonly parts: readonly string[];
      /** What its script goes by, where the page is given to anybody and script keeps people out; null elsewhere. */
      readonly guard: {
        readonly audience: Audience;
        readonly parameters: ReadonlyMap<string, string>;
        /** The switches of the app that are on, as the app tells its script. */
        readonly flags: ReadonlySet<string>;
        /** The parts that script draws for those whom they are for. */
        readonly parts: readonly { readonly name: string; readonly audience: Audience }[];
      } | null;
      /** What its script does with those who are refused, where that is not the usual; null elsewhere. */
      readonly refusals: Refusals | null;
      /** What its script asks for once it is shown. */
      readonly loads: readonly { readonly method: Method; readonly path: string }[];
      /** The form that was refused and is shown again in this answer; null for a page that was asked for. */
      readonly again: FormName | null;
      /** What its forms carry to show that they are the app's own; null for nothing. */
      readonly token: string | null;
    }
  /** Problem details (RFC 9457): no more than the status and a short title. */
  | { readonly kind: 'problem'; readonly title: string }
  /** A token response (RFC 6749 §5.1). After a login by script it also says where to go on to. */
  | {
      readonly kind: 'tokens';
      readonly accessToken: string;
      readonly expiresIn: number;
      readonly refreshToken: string | null;
      /** What can be read inside the access token (RFC 7519 §4). */
      readonly claims: {
        readonly account: string;
        readonly roles: ReadonlySet<string>;
        readonly secondFactor: boolean;
      };
      readonly next: string | null;
    }
  /** A refused login by script, and where to go on to. */
  | { readonly kind: 'refused-login'; readonly next: string }
  /** Where script is to go on to. */
  | { readonly kind: 'next'; readonly next: string }
  /** A token error (RFC 6749 §5.2). */
  | {
      readonly kind: 'token-error';
      readonly error:
        | 'invalid_grant'
        | 'invalid_request'
        | 'invalid_scope'
        | 'unsupported_grant_type'
        | 'unsupported_token_type';
    };

export const NO_FIELDS: ReadonlyMap<string, string> = new Map();
const NOTHING: Body = { kind: 'empty' };

/** A response with a status and, where given, more. */
export function respond(status: number, more: Partial<HttpResponse> = {}): HttpResponse {
  return {
    status,
    location: more.location ?? null,
    setCookie: more.setCookie ?? [],
    allow: more.allow ?? [],
    authenticate: more.authenticate ?? null,
    noStore: more.noStore ?? false,
    body: more.body ?? NOTHING,
  };
}

/** A page with nothing on it, and nobody for a reader. */
export const EMPTY_PAGE = {
  kind: 'page',
  reader: null,
  actor: null,
  menu: [],
  parts: [],
  guard: null,
  refusals: null,
  loads: [],
  again: null,
  token: null,
} as const satisfies Body;
