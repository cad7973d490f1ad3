import { inNetwork } from '../http/client-address.js';
import type { Method } from '../http/messages.js';
import type { Conditions, Rule } from '../language/policy.js';
import type { Pattern } from '../paths/pattern.js';
import { PatternCollection } from '../paths/pattern-collection.js';

/** What rules ask about a request besides its path. */
export interface Circumstances {
  readonly method: Method;
  /** The host that the request was sent to, without port. */
  readonly host: string;
  /** The address that the request came from. */
  readonly client: string;
}

/** Finds the rules for an address without trying each of their patterns. */
export class RuleIndex {
  private readonly byPattern = new PatternCollection<Rule>();
  private readonly byExpression: readonly Rule[];

  /** @param fold makes of a pattern what is compared */
  constructor(rules: readonly Rule[], fold: (pattern: Pattern) => Pattern) {
    for (const rule of rules) {
      for (const pattern of rule.patterns) this.byPattern.add(fold(pattern), rule);
    }
    this.byExpression = rules.filter((rule) => rule.expression !== null);
  }

  /**
   * Every rule whose path matches, in the order of the policy.
   *
   * @param path what expressions see
   * @param segments what patterns are compared with
   */
  matching(path: string, segments: readonly string[]): Rule[] {
    const found = new Set(this.byPattern.find(segments));
    for (const rule of this.byExpression) {
      if (rule.expression !== null && rule.expression.language.has(path)) found.add(rule);
    }
    return [...found].sort((a, b) => a.number - b.number);
  }
}

/** Whether a rule asks for more than a path. */
export function isConditional({ methods, hosts, from }: Conditions): boolean {
  return methods !== null || hosts !== null || from !== null;
}

/** Whether a request is what a rule asks for, its path apart. */
export function meets({ methods, hosts, from }: Conditions, request: Circumstances): boolean {
  if (methods !== null && !methods.includes(request.method)) return false;
  if (hosts !== null && !hosts.includes(request.host)) return false;
  return from === null || from.some((network) => inNetwork(network, request.client));
}
