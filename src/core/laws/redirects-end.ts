import { barrierBefore } from '../app/barriers.js';
import type { Reason } from '../app/reasons.js';
import type { Exchange } from '../play/stage.js';
import type { Law, View } from './law.js';
import { TRUST_PROXY } from './lost-cookies.js';
import { wayThrough } from './way-through.js';

/** Redirects come to an end. */
export const redirectsEnd: Law = {
  meta: {
    name: 'redirects-end',
    title: 'A chain of redirects repeats or passes 20.',
    holds: 'Every chain of redirects comes to an end.',
    mend: 'send people on to a page that admits them',
    weight: 'law',
  },
  broken: (view) => {
    const { played } = view;
    if (played.cutShort !== 'redirect-loop') return null;
    const last = played.exchanges.at(-1);
    return {
      seen: `the visitor is sent round and round, at last from ${last?.request.path ?? '/'}`,
      allowedBy: last?.explanation.decidedBy ?? [],
      mend: (last && mendOf(view, last)) ?? redirectsEnd.meta.mend,
    };
  },
};

/** Refusals that send people to a form. */
const TO_A_FORM: ReadonlySet<Reason> = new Set(['guest', 'code-needed', 'stale-login']);

/** What would mend a refusal in the circle that is not one of its own; null for those of a page. */
function mendOf({ stage, clock }: View, { explanation, route, visitor }: Exchange): string | null {
  const { reason } = explanation;
  if (reason === 'insecure-scheme' && stage.app.policy.proxy?.trusted === false) return TRUST_PROXY;
  if (TO_A_FORM.has(reason)) return wayThrough.meta.mend;
  const barrier =
    route === null || reason !== 'barrier' ? null : barrierBefore(stage.app, route, visitor, clock);
  return barrier === null ? null : `name ${barrier.sends ?? ''} in lets of the barrier ${barrier.name}`;
}
