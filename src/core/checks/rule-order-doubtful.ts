import { audienceKey } from '../app/classes.js';
import type { Rule } from '../language/policy.js';
import { andList } from '../language/text/suggestions.js';
import { matches, segmentsOf, type Pattern } from '../paths/pattern.js';
import { check } from './check.js';

/** The more particular of two rules comes first. */
export const ruleOrderDoubtful = check<{ first: number; later: number; paths: readonly string[] }>({
  meta: {
    code: 'rule-order-doubtful',
    severity: 'advice',
    title: 'The more particular of two rules comes first.',
    why: 'The first rule that matches decides. A later one that names the address more closely was probably meant as an exception.',
    cwe: null,
    mend: 'Move the more particular rule before the other, or say on the page itself whom it is for.',
  },
  *find(facts) {
    const found = new Map<string, { first: Rule; later: Rule; paths: string[] }>();
    for (const page of facts.policy.pages) {
      const route = facts.pageRoute(page);
      const first = route?.rule;
      if (!first || route.grounds.by !== 'rule') continue;
      const later = facts.stage.app.router
        .candidates(route.path)
        .find(
          (rule) => rule.number > first.number && refines(rule, first, route.path) && differ(rule, first),
        );
      if (later === undefined) continue;
      const key = `${first.number} ${later.number}`;
      const known = found.get(key) ?? { first, later, paths: [] };
      known.paths.push(page.pattern.text);
      found.set(key, known);
    }
    for (const { first, later, paths } of found.values()) {
      yield {
        at: later.at,
        params: { first: first.number, later: later.number, paths },
        related: [{ at: first.at, message: `rule ${first.number} decides` }],
      };
    }
  },
  message: ({ first, later, paths }) =>
    `rule ${first} decides at ${andList(paths)} although rule ${later} names ${paths.length === 1 ? 'it' : 'them'} more closely`,
});

function differ(one: Rule, other: Rule): boolean {
  const key = (rule: Rule) =>
    [rule.audiences.read, rule.audiences.write]
      .map((stated) => (stated === null ? '' : audienceKey(stated.audience)))
      .join('|');
  return key(one) !== key(other);
}

/** Whether a rule names an address more closely than another: segment by segment, a literal goes before a wildcard. */
function refines(rule: Rule, other: Rule, path: string): boolean {
  const segments = segmentsOf(path);
  const own = rule.patterns.find((pattern) => matches(pattern, segments));
  const theirs = other.patterns.find((pattern) => matches(pattern, segments));
  if (own === undefined || theirs === undefined) return false;
  for (let at = 0; at < segments.length; at++) {
    const difference = closeness(own, at) - closeness(theirs, at);
    if (difference !== 0) return difference > 0;
  }
  return false;
}

function closeness(pattern: Pattern, at: number): number {
  const segment = pattern.segments[at];
  if (segment === undefined) return 0;
  return segment.kind === 'literal' ? 2 : 1;
}
