import type { Law } from './law.js';

/** Whoever is sent somewhere finds something there. */
export const targetsExist: Law = {
  meta: { name: 'targets-exist', title: 'A redirect lands on 404 or 405.', weight: 'law' },
  broken: ({ played: { exchanges } }) => {
    for (let at = 1; at < exchanges.length; at++) {
      const sender = exchanges[at - 1];
      const target = exchanges[at];
      const sent = sender !== undefined && sender.response.location !== null;
      if (!sent || target === undefined) continue;
      const { reason } = target.explanation;
      // The address that the visitor asked for first may well be none: that is theirs, not the app's.
      const asked = sender.request.form.size > 0 && sender.explanation.decidedBy[1] === 'return';
      if ((reason !== 'unknown-page' && reason !== 'method-not-allowed') || asked) continue;
      return {
        seen: `${sender.request.path} sends the visitor to ${target.request.path}, which answers ${target.response.status}`,
        allowedBy: sender.explanation.decidedBy,
      };
    }
    return null;
  },
};
