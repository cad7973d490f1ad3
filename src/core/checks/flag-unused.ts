import { check } from './check.js';

/** Every flag decides something. */
export const flagUnused = check<{ flag: string }>({
  meta: {
    code: 'flag-unused',
    severity: 'advice',
    title: 'Every flag decides something.',
    why: 'A switch that nothing asks for is often one whose condition was forgotten: turning it changes nothing.',
    cwe: null,
    mend: 'Ask for it in an audience, or take it out.',
  },
  *find(facts) {
    const asked = facts.audiences.flatMap(({ audience }) =>
      audience.who === 'some' ? [...audience.flags.keys()] : [],
    );
    for (const flag of facts.policy.flags.keys()) {
      if (!asked.includes(flag)) yield { at: ['flags', flag], params: { flag } };
    }
  },
  message: ({ flag }) => `nothing asks how the flag ${flag} stands`,
});
