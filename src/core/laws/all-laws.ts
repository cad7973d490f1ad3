import { barrierFirst } from './barrier-first.js';
import { codeFirst } from './code-first.js';
import { expiryFinal } from './expiry-final.js';
import { guestsOnly } from './guests-only.js';
import { honestRefresh } from './honest-refresh.js';
import { landingAllowed } from './landing-allowed.js';
import type { Breach, Law, View } from './law.js';
import { logoutFinal } from './logout-final.js';
import { menuHonest } from './menu-honest.js';
import { newId } from './new-id.js';
import { oneRetry } from './one-retry.js';
import { onlyPromised } from './only-promised.js';
import { ownLogin } from './own-login.js';
import { ownRequest } from './own-request.js';
import { passwordFinal } from './password-final.js';
import { promiseKept } from './promise-kept.js';
import { redirectsEnd } from './redirects-end.js';
import { returnKept } from './return-kept.js';
import { rightAudience } from './right-audience.js';
import { rolelessLanding } from './roleless-landing.js';
import { staysHome } from './stays-home.js';
import { targetsExist } from './targets-exist.js';
import { wayIn } from './way-in.js';
import { wayOut } from './way-out.js';
import { wayThrough } from './way-through.js';

/** Every law, in the order in which they are looked at and documented. */
export const ALL_LAWS: readonly Law[] = Object.freeze([
  rightAudience,
  guestsOnly,
  redirectsEnd,
  targetsExist,
  landingAllowed,
  rolelessLanding,
  wayIn,
  wayThrough,
  wayOut,
  returnKept,
  staysHome,
  logoutFinal,
  passwordFinal,
  expiryFinal,
  newId,
  oneRetry,
  honestRefresh,
  codeFirst,
  barrierFirst,
  ownRequest,
  ownLogin,
  onlyPromised,
  promiseKept,
  menuHonest,
]);

const NONE: readonly Breach[] = [];

/** The laws that a step breaks. */
export function breachesOf(view: View): readonly Breach[] {
  let breaches = NONE;
  for (const { meta, broken } of ALL_LAWS) {
    const sight = broken(view);
    if (sight === null) continue;
    const { name: law, weight, mend } = meta;
    const own = `expect-broken: ${law}`;
    breaches = [...breaches, { law, weight, weakness: sight.seen, mend, own, ...sight }];
  }
  return breaches;
}
