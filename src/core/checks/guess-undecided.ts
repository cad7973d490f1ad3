import { check } from './check.js';

/** Nothing of a policy is left as it was guessed. */
export const guessUndecided = check<{ text: string }>({
  meta: {
    code: 'guess-undecided',
    severity: 'warning',
    title: 'What was guessed has been decided.',
    why: 'A drafted policy has lines that nobody saw at work. What is proved of them is proved of a guess.',
    cwe: null,
    mend: 'Correct the line where it is wrong, and delete the comment.',
  },
  *find({ guesses }) {
    for (const { text, place } of guesses) yield { at: [], place, params: { text } };
  },
  message: ({ text }) => `this is guessed: ${text}`,
});
