/** Why a request came out as it did: a closed list, the same in walks, reports and the app half. */
export const REASONS = [
  'served',
  'guest',
  'guests-only',
  'role',
  'not-owner',
  'idle-expired',
  'absolute-expired',
  'signed-out',
  'session-lost',
  'access-expired',
  'refresh-expired',
  'refresh-reused',
  'refresh-revoked',
  'wrong-password',
  'suspended',
  'unconfirmed',
  'account-gone',
  'unknown-page',
  'unsafe-path',
  'method-not-allowed',
  'cookie-not-kept',
  'redirect-loop',
  'off-origin',
  'unsafe-return',
] as const;
export type Reason = (typeof REASONS)[number];

/** Reasons of the language that nothing in this version gives. */
export const LATER_REASONS = [
  'locked-out',
  'code-needed',
  'code-wrong',
  'code-expired',
  'stale-login',
  'insecure-scheme',
  'forwarded',
] as const;
