import { check } from './check.js';

/** The answer of an identity provider is held against the request of this browser. */
export const providerAnswerUnchecked = check<{ name: string; isForeign: boolean }>({
  meta: {
    code: 'provider-answer-unchecked',
    severity: 'error',
    title: 'The answer of an identity provider is held against the request of this browser.',
    why: 'RFC 9700 §4.7: without a state, a nonce or PKCE anybody’s answer signs in whoever opens it. §2.1.1: without PKCE or a nonce a code that leaked signs in whoever stole it.',
    cwe: 'CWE-352',
    mend: 'Leave state, pkce and nonce out, or set them to checked and true.',
  },
  *find({ policy: { providers } }) {
    for (const { at, name, state, pkce, nonce } of providers) {
      if (pkce || nonce === 'checked') continue;
      const isForeign = state !== 'checked';
      yield { at: [...at, isForeign ? 'state' : 'pkce'], params: { name, isForeign } };
    }
  },
  message: ({ name, isForeign }) =>
    isForeign
      ? `an answer of ${name} is taken that this browser never asked for`
      : `a code of ${name} that leaked signs in whoever stole it`,
});
