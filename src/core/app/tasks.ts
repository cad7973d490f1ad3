/** What the app does itself at an address. */
export type Task =
  | 'login'
  | 'logout'
  | 'refresh'
  | 'sign-up'
  | 'confirm'
  | 'code'
  | 'revoke'
  | 'change-password'
  | 'ask-reset'
  | 'reset'
  | 'ask-link'
  | 'open-link'
  | 'provider-start'
  | 'provider-back'
  | 'act-for'
  | 'stop-acting';

/** The links that are for guests, unless the policy says otherwise. */
export const FOR_GUESTS: ReadonlySet<Task> = new Set<Task>([
  'confirm',
  'open-link',
  'provider-start',
  'provider-back',
]);
