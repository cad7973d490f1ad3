import { handedOut, endsAtLogout, credentialWords } from '../vocabulary/credentials.js';
import { wordList } from '../language/text/schema-parts.js';
import { check } from './check.js';

/** A changed password ends what was got with the old one. */
export const passwordEndsTooLittle = check<{ left: readonly string[]; keepsOwn: boolean }>({
  meta: {
    code: 'password-ends-too-little',
    severity: 'error',
    title: 'A changed password ends what was got with the old one.',
    why: 'People change a password since somebody else may know it. Whoever got in with it stays in.',
    cwe: 'CWE-613',
    mend: 'Leave password.ends and password.own out, or name what is missing.',
  },
  *find({ policy }) {
    const { password, login, linkLogin, tokens } = policy;
    if (password === null || login === null) return;
    const { ends, own, change, reset } = password;
    const left: string[] = handedOut(policy)
      .filter((what) => endsAtLogout(what) && (what !== 'refresh' || tokens?.refresh) && !ends.has(what))
      .map((what) => `every other ${credentialWords(what)}`);
    const hasLinks = reset !== null || linkLogin !== null;
    if (hasLinks && !ends.has('links')) left.push('every link that was sent before');
    if (left.length > 0) yield { at: [...password.at, 'ends'], params: { left, keepsOwn: false } };
    if (own === 'keeps' && change !== null) {
      yield { at: [...password.at, 'own'], params: { left: [], keepsOwn: true } };
    }
  },
  message: ({ left, keepsOwn }) =>
    keepsOwn
      ? 'whoever has a copy of the session in which the password is changed keeps it'
      : `a changed password leaves ${wordList(left, 'and')} good`,
});
