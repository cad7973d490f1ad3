import type { ApiKeyRules } from '../../language/api-keys.js';
import type { IdentityProvider } from '../../language/identity-provider.js';
import type { Impersonation } from '../../language/impersonation.js';
import type {
  Attempts,
  LinkForm,
  LinkLogin,
  Login,
  Logout,
  PasswordChange,
  PasswordReset,
  PasswordRules,
  SecondFactor,
  SignUp,
} from '../../language/policy.js';
import {
  always,
  derived,
  flag,
  ladder,
  lasts,
  number,
  other,
  section,
  several,
  under,
  word,
  type Facet,
  type Facets,
} from './facet.js';
import { endpoint, endpoints, landings, LINK, patterns, RETURN, shownAgain } from './parts.js';

// The ways in and out.

const ATTEMPTS: Facets<Attempts> = {
  most: number('loosens'),
  within: lasts('tightens'),
  pause: lasts('tightens'),
};

const attempts = section(ATTEMPTS, 'tightens');

export const LOGIN: Facets<Login> = {
  name: derived,
  form: derived,
  page: word,
  submit: endpoint,
  wrong: word,
  shownAgain,
  by: word,
  asRole: word,
  renewSessionId: flag('tightens'),
  return: section(RETURN, 'changes'),
  attempts: attempts satisfies Facet<Attempts | null>,
  takes: several('loosens'),
  landing: landings('landing of the login'),
  fields: always({ account: word, password: word }),
};

export const SIGN_UP: Facets<SignUp> = {
  page: word,
  submit: endpoint,
  given: under('roles', several('loosens')),
  roles: derived,
  then: word,
  lands: other((lands) => (lands === 'landing' ? lands : lands.path)),
  shownAgain,
};

export const SECOND_FACTOR: Facets<SecondFactor> = {
  page: word,
  submit: endpoint,
  life: lasts('loosens'),
  tries: number('loosens'),
  asked: ladder('at-login', 'at-page'),
  of: several('tightens'),
  shownAgain,
};

const CHANGE: Facets<PasswordChange> = {
  page: word,
  submit: endpoint,
  asksOld: flag('tightens'),
  lands: word,
};

const LINK_FORM: Facets<LinkForm> = {
  page: word,
  submit: endpoint,
  lands: word,
  link: under('', always(LINK)),
  code: ladder('asked', 'given'),
  tells: flag('loosens'),
};

const RESET: Facets<PasswordReset> = { ...LINK_FORM, then: ladder('login', 'signed-in') };

export const PASSWORD: Facets<PasswordRules> = {
  change: section(CHANGE, 'changes'),
  reset: section(RESET, 'loosens'),
  ends: several('tightens'),
  own: ladder('ends', 'renews', 'keeps'),
};

export const LINK_LOGIN: Facets<LinkLogin> = { ...LINK_FORM, sameBrowser: flag('tightens') };

export const PROVIDER: Facets<IdentityProvider> = {
  name: derived,
  issuer: word,
  start: endpoint,
  back: endpoint,
  state: ladder('checked', 'ignored', 'absent'),
  pkce: flag('tightens'),
  nonce: ladder('checked', 'ignored', 'absent'),
  knows: other((known) => [...known].map(([account, name]) => `${account}: ${name}`).join(', ')),
  matches: ladder('subject', 'confirmed-address', 'address'),
  unknown: ladder('refuse', 'sign-up'),
  code: ladder('asked', 'given'),
  session: lasts('loosens'),
  logout: ladder('provider-too', 'app-only'),
  asksAgain: flag('tightens'),
};

export const API_KEYS: Facets<ApiKeyRules> = {
  sent: ladder('header', 'bearer', 'address'),
  name: word,
  life: lasts('loosens'),
  overlap: lasts('loosens'),
};

export const IMPERSONATION: Facets<Impersonation> = {
  start: endpoint,
  stop: endpoint,
  by: several('loosens'),
  of: several('loosens'),
  life: lasts('loosens'),
  not: patterns('tightens'),
  kept: ladder('session', 'account'),
};

export const LOGOUT: Facets<Logout> = {
  submits: under('submit', endpoints),
  lands: landings('landing after the logout'),
  clears: several('tightens'),
  ends: several('tightens'),
  of: ladder('account', 'login', 'shown'),
  status: word,
};
