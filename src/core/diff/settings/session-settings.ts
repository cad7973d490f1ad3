import type { Csrf, Proxy, RefreshRules, Remember, Routing, TokenRules } from '../../language/policy.js';
import type { RoleLimits, SessionCookie, SessionRules } from '../../language/session-options.js';
import { always, derived, flag, ladder, lasts, named, section, under, word, type Facets } from './facet.js';
import { COOKIE, endpoint } from './parts.js';

// How long visitors are known, and by what.

const ROLE_LIMITS: Facets<RoleLimits> = { role: derived, idle: lasts('loosens'), absolute: lasts('loosens') };

const SESSION_COOKIE: Facets<SessionCookie> = { ...COOKIE, life: lasts('loosens'), renewed: word };

export const SESSION: Facets<SessionRules> = {
  starts: word,
  kept: ladder('memory', 'store', 'sealed'),
  idle: lasts('loosens'),
  absolute: lasts('loosens'),
  renews: ladder('never', 'past-half', 'each-request'),
  roles: ladder('each-request', 'at-login'),
  'at-once': word,
  'account-gone': word,
  'by-role': named('session of', ({ role }) => role, ROLE_LIMITS, 'changes'),
  cookie: always(SESSION_COOKIE),
};

const COUNTS_AS: Facets<Remember['countsAs']> = { code: ladder('asked', 'given'), fresh: flag('loosens') };

export const REMEMBER: Facets<Remember> = {
  life: lasts('loosens'),
  rotates: flag('tightens'),
  reuse: ladder('end-series', 'refuse'),
  countsAs: always(COUNTS_AS),
  cookie: always(COOKIE),
};

const REFRESH: Facets<RefreshRules> = {
  life: lasts('loosens'),
  rotates: flag('tightens'),
  longest: lasts('loosens'),
  reuse: ladder('end-family', 'refuse', 'accept'),
  grace: lasts('loosens'),
};

const ACCESS: Facets<TokenRules['access']> = { life: lasts('loosens'), leeway: lasts('loosens') };

export const TOKENS: Facets<TokenRules> = {
  access: always(ACCESS),
  refresh: section(REFRESH, 'loosens'),
  roles: ladder('each-request', 'in-token'),
  kept: under('access.kept', word),
  submit: endpoint,
  revoke: endpoint,
  refreshWhen: word,
  sharedRefresh: word,
  failedRefresh: word,
  refused: word,
};

export const CSRF: Facets<Csrf> = {
  token: ladder('per-request', 'per-session', 'absent'),
  field: word,
  refused: word,
  order: word,
  checksOrigin: under('origin', flag('tightens')),
};

export const PROXY: Facets<Proxy> = { endsTls: word, trusted: word };

export const ROUTING: Facets<Routing> = {
  letterCase: word,
  decodes: word,
  trailingSlash: word,
  encodedSlash: word,
  emptySegments: word,
  expressions: word,
};

export const backButton = ladder('no-store', 'cached');
