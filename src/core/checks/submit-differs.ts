import { check } from './check.js';

/** A form is for the same people when it is sent as when it is shown. */
export const submitDiffers = check<{ who: string; name: string; shown: boolean }>({
  meta: {
    code: 'submit-differs',
    severity: 'error',
    title: 'A form is for the same people when it is sent as when it is shown.',
    why: 'A form that is shown and then refused locks people out; one that is hidden and then taken lets in whom it should not, since requests can be made without the form.',
    cwe: 'CWE-862',
    mend: 'Give the page one audience, with for, instead of read and write.',
  },
  *find(facts) {
    for (const { name, page, method } of facts.forms) {
      const read = facts.route(page);
      const write = facts.route(page, method);
      if (!read?.page || write === null) continue;
      for (const { who, visitor } of facts.people) {
        const shown = facts.admits(read.grounds.audience, visitor, read.parameters);
        const sent = facts.admits(write.grounds.audience, visitor, write.parameters);
        if (shown === sent) continue;
        yield { at: shown ? write.grounds.at : read.grounds.at, params: { who, name, shown } };
        break;
      }
    }
  },
  message: ({ who, name, shown }) =>
    shown
      ? `${who} is shown the ${name} form but refused when sending it`
      : `${who} is refused the ${name} form but may send it`,
});
