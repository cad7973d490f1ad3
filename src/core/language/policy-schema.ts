import * as z from 'zod';
import { flags } from '../audience/written.js';
import * as access from './access-schema.js';
import * as ways from './login-schema.js';
import { apiKeys } from './api-key-reader.js';
import { impersonation } from './impersonation-reader.js';
import { identityProviders } from './provider-reader.js';
import { refusals } from './refusals.js';
import { session } from './session-options.js';
import { mapOf, section, text } from './text/schema-parts.js';

const accepted = section('an accepted finding', {
  check: text('the code of a check'),
  because: text('a reason'),
});

/** The shape of a policy file. What its names refer to is settled by `policy-reader.ts`. */
export const policySchema = section('the policy', {
  cavrin: z.literal(1, { error: 'the version of the language, 1' }),
  app: text('the name of the app'),
  origin: text('an origin such as https://harbour.example'),
  hosts: z.array(text('a host such as office.harbour.example'), { error: 'a list of hosts' }).optional(),
  roles: mapOf(
    'a map of roles, such as { skipper: [], harbourmaster: [skipper] },',
    z.array(text('a role'), { error: 'a list of the roles it includes, [] for none' }),
  ).optional(),
  accounts: mapOf(
    'a map of accounts, such as { ines: { password: gull-29, roles: [skipper] } },',
    access.account,
  ).optional(),
  flags: flags.optional(),
  pages: mapOf('a map of paths', access.page).optional(),
  rules: z.array(access.rule, { error: 'a list of rules' }).optional(),
  otherwise: access.audience.optional(),
  barriers: z.array(access.barrier, { error: 'a list of barriers' }).optional(),
  refusals: refusals.optional(),
  login: ways.login.optional(),
  logins: ways.logins.optional(),
  landing: access.landingList.optional(),
  'sign-up': ways.signUp.optional(),
  confirm: ways.confirm.optional(),
  'second-factor': ways.secondFactor.optional(),
  password: ways.password.optional(),
  'link-login': ways.linkLogin.optional(),
  'identity-providers': identityProviders.optional(),
  'api-keys': apiKeys.optional(),
  impersonation: impersonation.optional(),
  logout: ways.logout.optional(),
  session: session.optional(),
  remember: ways.remember.optional(),
  tokens: ways.tokens.optional(),
  csrf: ways.csrf.optional(),
  routing: access.routing.optional(),
  proxy: ways.proxy.optional(),
  'back-button': access.backButton.optional(),
  menu: z.array(access.menuLink, { error: 'a list of menu links' }).optional(),
  promises: z.array(access.promise, { error: 'a list of promises' }).optional(),
  accepted: z.array(accepted, { error: 'a list of accepted findings' }).optional(),
  walks: z.unknown().optional(),
});
export type PolicyText = z.output<typeof policySchema>;
