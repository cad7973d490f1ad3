/** What a promise may count from. */
export const PROMISE_EVENTS = ['logout', 'role-removed', 'suspended', 'password-changed'] as const;
export type PromiseEvent = (typeof PROMISE_EVENTS)[number];
