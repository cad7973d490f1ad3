import type { Gate } from './gate.js';

/** A rule that is for https only sends plain http on. */
export const https: Gate = (question) => {
  const { rule } = question.route;
  if (rule?.onlyHttps !== true || question.isSecure()) return null;
  return { by: 'https', reason: 'insecure-scheme', at: rule.at };
};
