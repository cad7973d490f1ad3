import type { Policy } from '../language/policy.js';
import type { Exchange, Played } from '../play/stage.js';
import type { Breach } from './law.js';

/** How the cookie of a login was lost, the place that has it so, and what would mend it. */
export interface LostCookie extends Pick<Breach, 'allowedBy' | 'mend'> {
  readonly how: string;
}

/** What mends an app that believes of a request by its proxy that it came over plain http. */
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
