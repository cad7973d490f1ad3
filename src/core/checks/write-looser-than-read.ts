import { isSafe } from '../http/messages.js';
import type { Audience } from '../vocabulary/audience.js';
import { check } from './check.js';

/** Whoever may send to a page may see it. */
export const writeLooserThanRead = check<{ who: string; where: string }>({
  meta: {
    code: 'write-looser-than-read',
    severity: 'warning',
    title: 'Whoever may send to a page may see it.',
    why: 'A guard on showing a form and none on sending it is no guard: requests can be made without the form.',
    cwe: 'CWE-862',
    mend: 'Give write the audience of read, or a narrower one.',
  },
  *find(facts) {
    for (const place of [...facts.policy.pages, ...facts.policy.rules]) {
      const { read, write, methods } = place.audiences;
      const where = 'pattern' in place ? place.pattern.text : `the addresses of rule ${place.number}`;
      const writing = [...methods].filter(([method]) => !isSafe(method)).map(([, stated]) => stated);
      for (const stated of new Set([write, ...writing])) {
        if (read === null || stated === null || stated === read) continue;
        // What is somebody's own to read is written by others for them: a report by a teacher.
        if (isOwn(read.audience) && !isOwn(stated.audience)) continue;
        const found = facts.standingOnlyIn(stated.audience, read.audience);
        if (found !== undefined) yield { at: stated.at, params: { who: found.who, where } };
      }
    }
  },
  message: ({ who, where }) => `${who} may send to ${where} without being allowed to see it`,
});

/** Whether an address is for the account that it names. */
function isOwn(audience: Audience): boolean {
  return audience.who === 'some' && audience.account !== null;
}
