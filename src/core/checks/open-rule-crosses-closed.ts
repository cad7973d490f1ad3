import type { Rule } from '../language/policy.js';
import type { RegularLanguage } from '../paths/automaton.js';
import { languageOfPattern, normalisedPaths } from '../paths/regular-language.js';
import { remainder, type ReadingBudget } from '../paths/remainder.js';
import { check } from './check.js';

/** A rule that opens addresses does not reach into what a later one closes. */
export const openRuleCrossesClosed = check<{ open: number; closed: number; sample: string; who: string }>({
  meta: {
    code: 'open-rule-crosses-closed',
    severity: 'warning',
    title: 'A rule that opens addresses does not reach into what a later one closes.',
    why: 'The first rule that matches decides: one that was meant for something else, such as files of a kind, opens part of a closed branch.',
    cwe: 'CWE-863',
    mend: 'Anchor the open rule to the folder that it is meant for, or put the closed one before it.',
  },
  *find(facts) {
    const { rules } = facts.policy;
    for (const open of rules) {
      const wide = open.audiences.read;
      if (wide === null || open.expression === null) continue;
      for (const closed of rules) {
        const { read } = closed.audiences;
        if (closed.number <= open.number || read === null) continue;
        const found = facts.admittedOnlyBy(wide.audience, read.audience);
        const sample = found === undefined ? null : crossing(open, closed, facts.reading);
        if (found === undefined || sample === null) continue;
        yield {
          at: open.at,
          params: { open: open.number, closed: closed.number, sample, who: found.who },
          related: [{ at: closed.at, message: `rule ${closed.number} closes the branch` }],
          shownBy: facts.shownBy('GET', sample, found.who),
        };
        break;
      }
    }
  },
  message: ({ open, closed, sample, who }) =>
    `rule ${open} opens ${sample} to ${who}, to whom rule ${closed} would close it`,
});

/** An address that both rules match, where neither the one nor the other has all of the open rule's; null where there is none. */
function crossing(open: Rule, closed: Rule, budget: ReadingBudget): string | null {
  // Exceptions to a general rule lie within it, and a general rule has all that others have.
  if (
    open.expression === null ||
    closed.patterns.some(({ tail, segments }) => tail && segments.length === 0)
  ) {
    return null;
  }
  const theirs = languagesOf(closed);
  const left = remainder(open.expression.language, theirs, normalisedPaths(), budget);
  if (left.left !== 'something') return null;
  for (const language of theirs) {
    const shared = remainder(open.expression.language, [], language, budget);
    if (shared.left === 'something' && shared.sample.startsWith('/')) return shared.sample;
  }
  return null;
}

function languagesOf({ patterns, expression }: Rule): RegularLanguage[] {
  return [...patterns.map(languageOfPattern), ...(expression === null ? [] : [expression.language])];
}
