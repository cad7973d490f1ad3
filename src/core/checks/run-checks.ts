import { Capped } from '../language/text/capped.js';
import type { Diagnostic } from '../language/text/diagnostic.js';
import type { Policy } from '../language/policy.js';
import { guessesIn } from '../language/text/guesses.js';
import { problem } from '../language/text/problems.js';
import { clipped, nearest } from '../language/text/suggestions.js';
import type { YamlText } from '../language/text/yaml-text.js';
import type { Walk } from '../steps/walk.js';
import { ALL_CHECKS } from './all-checks.js';
import type { AnyCheck } from './check.js';
import { Facts } from './facts.js';

/** Runs the checks on a policy and points at what they find. A check that fails itself is reported, not hidden. */
export function runChecks(
  policy: Policy,
  input: YamlText,
  walks: readonly Walk[] = [],
  checks: readonly AnyCheck[] = ALL_CHECKS,
): Diagnostic[] {
  const facts = new Facts(policy, walks, guessesIn(input));
  const found = checks.flatMap((check) => runCheck(check, facts, input));
  const accepted = new Set(policy.accepted.map((entry) => entry.check));
  const told = [...found.filter(({ code }) => !accepted.has(code)), ...idleAcceptances(policy, found, input)];
  const capped = new Capped();
  for (const diagnostic of told) capped.add(diagnostic);
  return capped.diagnostics;
}

function runCheck(check: AnyCheck, facts: Facts, input: YamlText): Diagnostic[] {
  const { code, severity, mend } = check.meta;
  try {
    return check.find(facts).map(({ finding, message }): Diagnostic => {
      const related = (finding.related ?? []).map((each) => ({
        place: (finding.input ?? input).placeOf(each.at),
        message: each.message,
      }));
      return {
        code,
        severity,
        message: clipped(message),
        place: finding.place ?? (finding.input ?? input).placeOf(finding.at),
        related,
        hint: mend,
        ...(finding.shownBy === undefined ? {} : { shownBy: finding.shownBy }),
      };
    });
  } catch (error) {
    return [crashed(check, error, input)];
  }
}

/** Acceptances that silence nothing: the finding was mended, or there is no such check. */
function idleAcceptances(policy: Policy, found: readonly Diagnostic[], input: YamlText): Diagnostic[] {
  const codes = ALL_CHECKS.map((check) => check.meta.code);
  const foundCodes = new Set(found.map(({ code }) => code));
  return policy.accepted.flatMap(({ check, at }) => {
    const place = input.placeOf([...at, 'check']);
    if (!codes.includes(check)) {
      return [problem('unknown-check', { name: check, near: nearest(check, codes) }, place)];
    }
    if (foundCodes.has(check)) return [];
    return [{ ...problem('accepts-nothing', { check }, place), severity: 'warning' as const }];
  });
}

function crashed(check: AnyCheck, error: unknown, input: YamlText): Diagnostic {
  return {
    code: 'check-crashed',
    severity: 'error',
    message: `the check ${check.meta.code} failed: ${error instanceof Error ? error.message : String(error)}`,
    place: input.placeOf([]),
    related: [],
    hint: 'this is a fault of Cavrin: please report it with the policy',
  };
}
