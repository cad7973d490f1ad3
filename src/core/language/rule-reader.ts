import { parseNetwork, type ClientNetwork } from '../http/client-address.js';
import { languageOfExpression, sizeOfExpression } from '../paths/regular-language.js';
import { readStated, type Names } from './audience-reader.js';
import { readHost, readPattern, type Scope } from './text/name-reader.js';
import type { PolicyText } from './policy-schema.js';
import type { Rule, ShownHow } from './policy.js';
import { problem } from './text/problems.js';
import { readOwnRefusals } from './refusals.js';
import type { Path } from './text/yaml-text.js';

type RuleText = NonNullable<PolicyText['rules']>[number];

/** Every pattern of a rule is compared with all of the rules before it, and with the others of its own. */
const MOST_PATTERNS = 1_500;
/** What the expressions of a policy may come to together (see `sizeOfExpression`). */
const LARGEST_TOGETHER = 30_000;

/** Reads the rules of a policy, as many as can be compared with one another. */
export function readRules(texts: readonly RuleText[], names: Names, scope: Scope): Rule[] {
  let [patterns, size] = [0, 0];
  for (const [index, { matches, path = [] }] of texts.entries()) {
    patterns += path.length;
    if (patterns > MOST_PATTERNS) {
      const params = { patterns: MOST_PATTERNS };
      scope.report(problem('too-many-patterns', params, scope.input.placeOf(['rules', index])));
      return [];
    }
    size += matches === undefined ? 0 : sizeOfExpression(matches);
    if (matches === undefined || size <= LARGEST_TOGETHER) continue;
    const params = { source: matches, problem: 'with those before it, it is more than can be compared' };
    scope.report(problem('bad-expression', params, scope.input.placeOf(['rules', index, 'matches'])));
    return [];
  }
  return texts.map((text, index) => readRule(text, index, names, scope));
}

/** Reads a rule: what it matches, what it asks of a request besides, and whom it is for. */
function readRule(text: RuleText, index: number, names: Names, scope: Scope): Rule {
  const at: Path = ['rules', index];
  if ((text.path === undefined) === (text.matches === undefined)) {
    const says = 'a rule has one of path and matches';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  const patterns = (text.path ?? []).map((path) => readPattern(path, [...at, 'path'], scope));
  return {
    at,
    number: index + 1,
    patterns,
    expression: text.matches === undefined ? null : readExpression(text.matches, [...at, 'matches'], scope),
    conditions: {
      methods: text.methods ?? null,
      hosts: text.host?.map((host) => readHost(host, [...at, 'host'], scope)) ?? null,
      from: text.from?.map((network) => readNetwork(network, [...at, 'from'], scope)) ?? null,
    },
    kind: text.kind ?? null,
    onlyHttps: text.scheme === 'https',
    audiences: readStated(withoutMethods(text), at, patterns, names),
    ...readShownHow(text, at, scope),
  };
}

/** Reads what a page or a rule says of how it is shown and refused. */
export function readShownHow(
  text: Pick<RuleText, 'guard' | 'cache' | 'refusals' | 'kind'>,
  at: Path,
  scope: Scope,
): ShownHow {
  const { guard = null, cache = null, refusals, kind = null } = text;
  return {
    guard,
    cache,
    refusals: refusals === undefined ? null : readOwnRefusals(refusals, kind, [...at, 'refusals'], scope),
  };
}

/** A rule's methods say when it applies; a page's methods have audiences of their own. */
function withoutMethods({ for: both, read, write }: RuleText) {
  return { for: both, read, write };
}

function readExpression(source: string, at: Path, scope: Scope): Rule['expression'] {
  const language = languageOfExpression(source);
  if (typeof language !== 'string') return { source, language };
  scope.report(problem('bad-expression', { source, problem: language }, scope.input.placeOf(at)));
  return null;
}

function readNetwork(text: string, at: Path, scope: Scope): ClientNetwork {
  const network = parseNetwork(text);
  if (network !== null) return network;
  const says = `${text} is no network; write one like 10.0.0.0/8, 2001:db8::/32 or 192.0.2.7`;
  scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  return { text, family: 4, bits: 0n, prefix: 32 };
}
