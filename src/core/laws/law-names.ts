/** The names of the laws, for the language; `all-laws.ts` has the laws themselves, and a test holds the two together. */
export const LAW_NAMES = [
  'right-audience',
  'guests-only',
  'redirects-end',
  'targets-exist',
  'landing-allowed',
  'roleless-landing',
  'way-in',
  'way-through',
  'way-out',
  'return-kept',
  'stays-home',
  'logout-final',
  'expiry-final',
  'new-id',
  'one-retry',
  'honest-refresh',
  'code-first',
  'only-promised',
  'promise-kept',
  'menu-honest',
] as const;
export type LawName = (typeof LAW_NAMES)[number];
