import type { Policy } from '../language/policy.js';
import type { Played } from '../play/stage.js';
import type { Exchange } from '../play/stage.js';
import type { Sight } from './law.js';

/** How the cookie of a login was lost, the place that has it so, and what would mend it. */
export interface LostCookie extends Pick<Sight, 'allowedBy'> {
  readonly how: string;
  readonly mend: string;
}

/** What the app believes of a request that came to it by a proxy. */
export const TRUST_PROXY = 'set proxy.trusted: true, so that the app knows that it was asked over https';

/** The cookie that a login would have given, where the browser does not have it. */
export function lostCookie({ origin }: Policy, { refusedCookies }: Played, entry: Exchange): LostCookie {
  if (entry.explanation.cookieWithheld === true) {
    return {
      how: 'the app holds its secure cookie back, since it believes that it speaks plain http',
      allowedBy: ['proxy'],
      mend: TRUST_PROXY,
    };
  }
  const lost = [...new Set(refusedCookies)].join(' and ');
  return {
    how: `the browser does not keep ${lost === '' ? 'what it was given' : `the cookie ${lost}`}`,
    allowedBy: ['session', 'cookie'],
    mend: origin.startsWith('http:')
      ? `serve it by https: write origin: https:${origin.slice('http:'.length)}`
      : 'write a cookie that browsers keep: same-site: none and a name with __Secure- or __Host- need secure: true, and domain is that of the host',
  };
}
