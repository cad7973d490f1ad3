import type { Placed } from '../language/policy.js';
import type { FormName, Method } from '../http/messages.js';
import type { Seconds } from '../time/duration.js';
import type { Credential } from '../vocabulary/credentials.js';

/** How a real app is held against a policy: live.yaml as read, every default filled in. */
export interface LiveConfig {
  /** Origin and base path of the app, without a slash at the end. */
  readonly at: string;
  readonly start: Start | null;
  /** Whether the app takes from the run, as from its proxy, by which scheme and from where a request came. */
  readonly isForwarding: boolean;
  readonly accounts: ReadonlyMap<string, LiveAccount>;
  readonly forms: Readonly<Record<'login' | 'sign-up' | 'code', FormHints>>;
  readonly who: Who | null;
  /** The part of a page that has the menu; null: its `nav`, or all of it. */
  readonly menu: string | null;
  /** By page path of the policy, the element that shows that the page is there. */
  readonly shownWhen: ReadonlyMap<string, ShownWhen>;
  /** What shows that a part of a page is there, by page and part, where its text does not. */
  readonly parts: ReadonlyMap<string, ReadonlyMap<string, ShownWhen>>;
  readonly credentials: Readonly<Record<Credential, Kept>>;
  readonly logout: LogoutWay | null;
  readonly clock: 'preload' | 'real' | Done | null;
  readonly deeds: Readonly<Partial<Record<DeedName, Done>>>;
  readonly reset: 'restart' | 'none' | Done;
  readonly accepted: readonly AcceptedDifference[];
}

/** What somebody with access to the app does, or tells of it. */
export type DeedName =
  | 'suspend'
  | 'delete-account'
  | 'set-roles'
  | 'set-facts'
  | 'set-password'
  | 'set-flag'
  | 'rotate-key'
  | 'revoke-key'
  | 'restart-app'
  | 'code'
  | 'link';

/** How the app is started. */
export interface Start extends Placed {
  readonly command: readonly string[];
  /** The request that it answers once it is up. */
  readonly ready: { readonly method: Method; readonly path: string };
  readonly within: Seconds;
  readonly env: ReadonlyMap<string, Text>;
}

/** A text in which `env:NAME` stands for what the variable holds. */
export type Text = string;

export interface LiveAccount extends Placed {
  /** null: the account's name in the policy. */
  readonly name: string | null;
  /** The variable that holds the password; null: the password of the policy. */
  readonly passwordIn: string | null;
  /** The variable that holds the key of a machine; null where it has none, or nobody knows it. */
  readonly keyIn: string | null;
}

/** What of a form is not found by looking; null for what is. */
export interface FormHints {
  readonly form: string | null;
  /** How script sends it. */
  readonly sends: 'form' | 'json' | null;
  readonly name: string | null;
  readonly password: string | null;
  readonly remember: string | null;
  readonly role: string | null;
  readonly code: string | null;
}

/** Where the app says whom it takes the visitor for, and in which words. */
export type Who = {
  /** The account of each text. */
  readonly accounts: ReadonlyMap<string, string>;
} & (
  | {
      readonly by: 'element';
      readonly selector: string;
      readonly attribute: string | null;
      /** What only those who are signed in are shown; null where nothing is told of it. */
      readonly signedInWhere: string | null;
    }
  | { readonly by: 'header'; readonly header: string }
  | { readonly by: 'request'; readonly method: Method; readonly path: string; readonly pointer: string }
);

/** A selector, and the text in what it finds. */
export interface ShownWhen {
  readonly selector: string;
  readonly text: string | null;
}

/** Where the app keeps a credential. */
export interface Kept {
  /** All of these cookies; none for what script keeps. */
  readonly cookies: readonly string[];
  readonly storage: 'session' | 'local' | null;
  readonly key: string | null;
  /** Where in the value of the storage (RFC 6901). */
  readonly pointer: string;
  /** Where in the answer of a login or refresh; null: under its usual names. */
  readonly answer: string | null;
  /** How a refresh token is shown, and in which field. */
  readonly sends: 'form' | 'json';
  readonly field: string;
}

export type LogoutWay =
  | { readonly by: 'form' | 'link'; readonly selector: string }
  | { readonly by: 'request'; readonly method: Method; readonly path: string };

/** Something that is done by a command or by a request, with placeholders in braces. */
export type Done =
  | { readonly by: 'run'; readonly command: readonly string[] }
  | {
      readonly by: 'request';
      readonly method: Method;
      readonly path: string;
      readonly form: ReadonlyMap<string, Text> | null;
      readonly json: ReadonlyMap<string, Text> | null;
      readonly headers: ReadonlyMap<string, Text>;
    };

export interface AcceptedDifference extends Placed {
  readonly difference: string;
  readonly because: string;
}

/** A text with what stands in braces put in. */
export function filledWith(text: string, values: Readonly<Record<string, string>>): string {
  return text.replace(/\{(\w+)\}/g, (written, name: string) =>
    Object.hasOwn(values, name) ? (values[name] ?? written) : written,
  );
}

/** What is said of a form; all logins have the same. Those for passwords and links are found by what they ask for. */
export function hintsFor({ forms }: Pick<LiveConfig, 'forms'>, form: FormName): FormHints {
  switch (form) {
    case 'sign-up':
    case 'code':
      return forms[form];
    case 'change-password':
    case 'ask-reset':
    case 'reset':
    case 'ask-link':
      return NOTHING_SAID;
    default:
      return forms.login;
  }
}

const NOTHING_SAID: FormHints = {
  form: null,
  name: null,
  password: null,
  role: null,
  code: null,
  remember: null,
  sends: null,
};
