/** What an account can be, the usual first. */
export const ACCOUNT_STATES = ['active', 'suspended', 'unconfirmed'] as const;
export type AccountState = (typeof ACCOUNT_STATES)[number];
