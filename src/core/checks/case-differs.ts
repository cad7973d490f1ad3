import { check } from './check.js';

/** No two paths differ in letter case alone. */
export const caseDiffers = check<{ one: string; other: string }>({
  meta: {
    code: 'case-differs',
    severity: 'warning',
    title: 'No two paths differ in letter case alone.',
    why: 'Paths are compared letter by letter: a rule for /Admin says nothing of /admin, whatever the server or the file system behind it makes of the two.',
    cwe: 'CWE-178',
    mend: 'Write both in the same case.',
  },
  *find({ policy: { pages, rules, routing } }) {
    if (routing.letterCase === 'ignored') return;
    const written = [
      ...pages.map(({ pattern, at }) => ({ text: pattern.text, at })),
      ...rules.flatMap(({ patterns, at }) => patterns.map(({ text }) => ({ text, at }))),
    ];
    const known = new Map<string, (typeof written)[number]>();
    for (const each of written) {
      const key = each.text.toLowerCase().replace(/\/\*\*$/, '');
      const before = known.get(key);
      if (before === undefined) known.set(key, each);
      else if (before.text.replace(/\/\*\*$/, '') !== each.text.replace(/\/\*\*$/, '')) {
        yield {
          at: each.at,
          params: { one: before.text, other: each.text },
          related: [{ at: before.at, message: 'the other' }],
        };
      }
    }
  },
  message: ({ one, other }) =>
    `${other} and ${one} differ in letter case alone: neither says anything of the other`,
});
