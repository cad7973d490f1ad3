import { admit } from '../app/admit.js';
import { check } from './check.js';

const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();

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
      const { read, write } = place.audiences;
      if (read === null || write === null || read === write) continue;
      const found = facts.people.find(
        ({ visitor }) =>
          admit(write.audience, visitor, NO_PARAMETERS) === 'served' &&
          admit(read.audience, visitor, NO_PARAMETERS) !== 'served',
      );
      const where = 'pattern' in place ? place.pattern.text : `the addresses of rule ${place.number}`;
      if (found !== undefined) yield { at: write.at, params: { who: found.who, where } };
    }
  },
  message: ({ who, where }) => `${who} may send to ${where} without being allowed to see it`,
});
