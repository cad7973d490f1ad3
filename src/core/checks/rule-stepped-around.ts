import type { Method } from '../http/messages.js';
import { sampleAddress } from '../paths/coverage.js';
import { samplesOfSpellings, tellsSpellings } from '../paths/spellings.js';
import type { Page } from '../language/policy.js';
import { check } from './check.js';
import type { Facts } from './facts.js';

const TRIED: readonly Method[] = ['GET', 'POST'];

/** A page has the same audience however its address is spelled. */
export const ruleSteppedAround = check<{
  who: string;
  method: string;
  plain: string;
  spelled: string;
}>({
  meta: {
    code: 'rule-stepped-around',
    severity: 'error',
    title: 'A page has the same audience however its address is spelled.',
    why: "Where the router takes two spellings for one page and an expression does not, a letter's case, a slash or an escape leads past the rule.",
    cwe: 'CWE-647',
    mend: 'Write the rule with path instead of matches, or give the page an audience of its own.',
  },
  *find(facts) {
    const { pages, rules, routing } = facts.policy;
    const expressions = rules.flatMap(({ expression }) => expression?.language ?? []);
    if (expressions.length === 0 || !tellsSpellings(routing)) return;
    for (const page of pages) {
      const plain = sampleAddress(page.pattern, () => 'x');
      const spellings = samplesOfSpellings([page.pattern], expressions, routing).paths;
      for (const [method, spelled] of TRIED.flatMap((each) =>
        spellings.map((variant) => [each, variant] as const),
      )) {
        const found = steppedAround(facts, page, method, plain, spelled);
        if (found === null) continue;
        yield {
          at: found.rule,
          params: { who: found.who, method, plain, spelled },
          shownBy: `${method} ${spelled} by ${found.who}`,
          related: [{ at: page.at, message: 'the page' }],
        };
        break;
      }
    }
  },
  message: ({ who, method, plain, spelled }) =>
    `${method} ${spelled} is open to ${who}, and the same page as ${plain}, which is not`,
});

/** Who gets a page by another spelling of its address only, and past which rule; null for nobody. */
function steppedAround(facts: Facts, page: Page, method: Method, plain: string, spelled: string) {
  const [route, other] = [facts.route(plain, method), facts.route(spelled, method)];
  if (route?.page !== page || other?.page !== page || other.hasSlash || other.rule === route.rule) {
    return null;
  }
  const found = facts.admittedOnlyBy(other.grounds.audience, route.grounds.audience, route.parameters);
  return found === undefined ? null : { who: found.who, rule: route.rule?.at ?? page.at };
}
