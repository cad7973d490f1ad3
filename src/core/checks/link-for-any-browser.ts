import { check } from './check.js';

/** A link to log in by is good only where it was asked for. */
export const linkForAnyBrowser = check<null>({
  meta: {
    code: 'link-for-any-browser',
    severity: 'warning',
    title: 'A link to log in by is good only in the browser that asked for it.',
    why: 'Somebody sends a link of their own account to others, who then work in that account without noticing. And whoever finds a forwarded mail is in.',
    cwe: 'CWE-352',
    mend: 'Set link-login.same-browser to true, or leave it out.',
  },
  *find({ policy: { linkLogin } }) {
    if (linkLogin?.sameBrowser === false) yield { at: [...linkLogin.at, 'same-browser'], params: null };
  },
  message: () => 'a link to log in by signs in whatever browser it is opened in',
});
