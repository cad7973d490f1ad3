import { policyText } from './policies';

/** A policy that is proved in a moment. */
export const SMALL = {
  roles: 'roles: { clerk: [] }',
  accounts: 'accounts: { ann: { password: a-1, roles: [clerk] } }',
  pages: 'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] } }',
  login: 'login: { page: /in, submit: POST /in }',
  landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]',
  logout: 'logout: { submit: POST /out }',
};
export const SOUND = policyText(SMALL);
/** A logout that ends nothing, and a promise of it. */
export const LEAKY = policyText({
  ...SMALL,
  logout: 'logout: { submit: POST /out, ends: [] }',
  more: 'promises: [{ after: logout, copied: session, works-at-most: 10m }, { only: [clerk], reach: /desk }]',
});
