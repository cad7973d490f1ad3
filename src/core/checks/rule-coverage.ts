import { meets, type Circumstances } from '../app/rule-index.js';
import {
  addressOutside,
  isWithin,
  parseNetwork,
  SOME_CLIENT,
  type ClientNetwork,
} from '../http/client-address.js';
import { METHODS } from '../http/messages.js';
import type { Rule } from '../language/policy.js';
import { coverage, sampleAddress } from '../paths/coverage.js';
import type { Pattern } from '../paths/pattern.js';
import type { RegularLanguage } from '../paths/automaton.js';
import { languageOfPattern, normalisedPaths } from '../paths/regular-language.js';
import { remainder, type ReadingBudget } from '../paths/remainder.js';

/** What earlier rules leave of a part of a rule: one of its patterns, or its expression. */
export interface RulePart {
  readonly text: string;
  /** The pattern's place among the rule's; null for an expression or a rule of one pattern. */
  readonly index: number | null;
  readonly reached: 'by some' | 'by none' | 'unsettled';
  /** The rules that take all of its addresses between them. */
  readonly takenBy: readonly Rule[];
  /** An address of the part; null where it has none at all. */
  readonly sample: string | null;
}

/** Settles for every part of a rule whether any request reaches it past the earlier rules. */
export function partsOf(rule: Rule, earlier: readonly Rule[], budget: ReadingBudget): RulePart[] {
  const { patterns, expression } = rule;
  const parts = patterns.map((pattern, index) =>
    settle(
      rule,
      earlier,
      { text: pattern.text, index: patterns.length === 1 ? null : index, pattern },
      budget,
    ),
  );
  return expression === null
    ? parts
    : [
        ...parts,
        settle(
          rule,
          earlier,
          { text: expression.source, index: null, language: expression.language },
          budget,
        ),
      ];
}

type Part = { readonly text: string; readonly index: number | null } & (
  { readonly pattern: Pattern } | { readonly language: RegularLanguage }
);

function settle(rule: Rule, earlier: readonly Rule[], part: Part, budget: ReadingBudget): RulePart {
  const takenBy = new Set<Rule>();
  const settled = (reached: RulePart['reached']): RulePart => ({
    text: part.text,
    index: part.index,
    reached,
    takenBy: earlier.filter((each) => takenBy.has(each)),
    sample: sampleOf(part, budget),
  });
  if (budget.left <= 0) return settled('unsettled');
  const tried = new Set<string>();
  const networks = earlier.reduce((sum, { conditions }) => sum + (conditions.from?.length ?? 0), 0);
  // Each network is held against each, and each request against each rule.
  budget.left -= (networks * networks) / CHEAPER;
  if (budget.left <= 0) return settled('unsettled');
  for (const request of requestsFor(rule, earlier)) {
    budget.left -= earlier.length / CHEAPER;
    if (budget.left <= 0) return settled('unsettled');
    const applying = earlier.filter((each) => meets(each.conditions, request));
    const key = applying.map((each) => each.number).join(' ');
    if (tried.has(key)) continue;
    tried.add(key);
    const taken = takers(part, applying, budget);
    if (taken === 'left') return settled('by some');
    if (taken === 'unsettled') return settled('unsettled');
    for (const each of taken) takenBy.add(each);
  }
  return settled('by none');
}

/** So many rules are held against a request in the time in which one character is read. */
const CHEAPER = 10;

/** The rules that take every address of a part between them. */
function takers(
  part: Part,
  rules: readonly Rule[],
  budget: ReadingBudget,
): readonly Rule[] | 'left' | 'unsettled' {
  if ('pattern' in part && rules.every((rule) => rule.expression === null)) {
    const patterns = rules.flatMap((rule) => rule.patterns);
    budget.left -= patterns.length / 3;
    if (budget.left <= 0) return 'unsettled';
    const found = coverage(part.pattern, patterns);
    if (!found.covered) return 'left';
    return rules.filter((rule) => rule.patterns.some((pattern) => found.by.includes(pattern)));
  }
  const owners = rules.flatMap((rule) => languagesOf(rule).map((language) => ({ rule, language })));
  const left = remainder(
    'pattern' in part ? languageOfPattern(part.pattern) : part.language,
    owners.map(({ language }) => language),
    normalisedPaths(),
    budget,
  );
  if (left.left === 'something') return 'left';
  if (left.left === 'unsettled') return 'unsettled';
  return left.takenBy.flatMap((at) => owners[at]?.rule ?? []);
}

function languagesOf(rule: Rule): RegularLanguage[] {
  const own = rule.expression === null ? [] : [rule.expression.language];
  return [...rule.patterns.map(languageOfPattern), ...own];
}

function sampleOf(part: Part, budget: ReadingBudget): string | null {
  if ('pattern' in part) return sampleAddress(part.pattern, () => 'x');
  const any = remainder(part.language, [], normalisedPaths(), budget);
  return any.left === 'something' ? any.sample : null;
}

/** One request for each way in which the conditions of rules tell requests apart that a rule itself takes. */
function* requestsFor(rule: Rule, earlier: readonly Rule[]): Generator<Circumstances> {
  const { methods, hosts, from } = rule.conditions;
  const named = earlier.flatMap((each) => each.conditions.hosts ?? []);
  const someMethods =
    methods ?? (earlier.some((each) => each.conditions.methods) ? METHODS : ['GET' as const]);
  const someHosts = hosts ?? [...new Set(named), ''];
  const clients = clientsFor(
    from,
    earlier.flatMap((each) => each.conditions.from ?? []),
  );
  for (const method of someMethods) {
    for (const host of someHosts) for (const client of clients) yield { method, host, client };
  }
}

const ALL_NETWORKS = ['0.0.0.0/0', '::/0'].map(parseNetwork).filter((network) => network !== null);

/** An address from every part into which some networks cut those of a rule. */
function clientsFor(own: readonly ClientNetwork[] | null, others: readonly ClientNetwork[]): string[] {
  if (own === null && others.length === 0) return [SOME_CLIENT];
  const whole = own ?? ALL_NETWORKS;
  const parts = [...whole, ...others.filter((other) => whole.some((each) => isWithin(other, each)))];
  return parts.flatMap((network) => {
    const within = parts.filter((other) => other !== network && other.prefix > network.prefix);
    return addressOutside(network, within) ?? [];
  });
}
