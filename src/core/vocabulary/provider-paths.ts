/** The addresses of an identity provider to which browsers are sent, as its discovery document names them (OpenID Connect Discovery §3). */
export const PROVIDER_PATHS = {
  authorize: '/authorize',
  login: '/login',
  endSession: '/end-session',
} as const;
