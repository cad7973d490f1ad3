import { check } from './check.js';

/** Whoever signs up is let in where they land. */
export const signUpLandingRefused = check<{ who: string; to: string }>({
  meta: {
    code: 'sign-up-landing-refused',
    severity: 'error',
    title: 'Whoever signs up is let in where they land.',
    why: 'The first thing that a new visitor sees is a refusal.',
    cwe: null,
    mend: 'Land the sign-up at a page that the new account, or a guest who has to confirm first, may see.',
  },
  *find(facts) {
    const { signUp } = facts.policy;
    if (signUp === null || signUp.lands === 'landing') return;
    const { path } = signUp.lands;
    const isIn = signUp.then === 'login';
    const visitor = isIn ? facts.newcomer(signUp.roles) : facts.guest;
    if (!facts.hasPage(path) || facts.mayRead(path, visitor) === 'served') return;
    const who = isIn ? 'a new account' : 'a guest who signs up';
    yield {
      at: [...signUp.at, 'lands'],
      params: { who, to: path },
      related: [{ at: facts.route(path)?.grounds.at ?? [], message: `this is whom ${path} is for` }],
      shownBy: facts.shownBy('GET', path, who),
    };
  },
  message: ({ who, to }) => `${who} lands at ${to} and is refused there`,
});
