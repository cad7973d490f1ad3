/** Why somebody may be refused, as a policy says what they get then. */
export const REFUSAL_KEYS = [
  'guest',
  'guests-only',
  'role',
  'second-factor',
  'stale-login',
  'unknown',
] as const;
export type RefusalKey = (typeof REFUSAL_KEYS)[number];

/** What somebody gets at a page that is not for them. */
export type Refusal =
  /** The login of a name, or the first. */
  | { readonly to: 'login'; readonly login?: string }
  | { readonly to: 'landing' | 'code-page' }
  /** The app of a single page, whose script finds out that there is nothing; only for unknown addresses. */
  | { readonly to: 'shell' }
  | { readonly to: 'path'; readonly path: string }
  | { readonly to: 'status'; readonly status: number };

/** The refusals of one kind of address, by the key that says them. */
export interface Refusals extends Readonly<Record<RefusalKey, Refusal>> {
  /** The status for a method that an address does not answer. */
  readonly method: 404 | 405;
}
