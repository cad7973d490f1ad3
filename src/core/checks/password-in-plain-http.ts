import { check } from './check.js';

/** Passwords are sent over https only. */
export const passwordInPlainHttp = check<{ path: string }>({
  meta: {
    code: 'password-in-plain-http',
    severity: 'warning',
    title: 'Passwords are sent over https only.',
    why: 'The app answers over plain http too, since one of its rules sends that to https; where no such rule covers the form, a password goes over it.',
    cwe: 'CWE-319',
    mend: 'Cover the form and where it is sent with a rule of scheme: https, best one for /** behind all others.',
  },
  *find(facts) {
    const { logins, signUp, password, rules, origin } = facts.policy;
    if (!origin.startsWith('https:') || !rules.some(({ onlyHttps }) => onlyHttps)) return;
    for (const form of [...logins, signUp, password?.change]) {
      if (!form) continue;
      const open = [facts.route(form.page), facts.route(form.submit.path, form.submit.method)].find(
        (route) => route !== null && route.rule?.onlyHttps !== true,
      );
      if (!open) continue;
      yield {
        at: form.at,
        params: { path: open.path },
        shownBy: `${open.path} over http: is answered, not sent to https`,
      };
    }
  },
  message: ({ path }) => `the form at ${path} is answered over plain http too`,
});
