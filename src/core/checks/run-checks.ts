import type { Diagnostic } from '../language/diagnostic.js';
import type { Policy } from '../language/policy.js';
import type { YamlText } from '../language/yaml-text.js';
import { ALL_CHECKS } from './all-checks.js';
import type { AnyCheck } from './check.js';
import { Facts } from './facts.js';

/** Runs the checks on a policy and points at what they find. A check that fails itself is reported, not hidden. */
export function runChecks(
  policy: Policy,
  input: YamlText,
  checks: readonly AnyCheck[] = ALL_CHECKS,
): Diagnostic[] {
  const facts = new Facts(policy);
  return checks.flatMap((check) => {
    try {
      return check.find(facts).map(({ finding, message }): Diagnostic => {
        const { code, severity, mend } = check.meta;
        const related = (finding.related ?? []).map((each) => ({
          place: input.placeOf(each.at),
          message: each.message,
        }));
        return { code, severity, message, place: input.placeOf(finding.at), related, hint: mend };
      });
    } catch (error) {
      return [crashed(check, error, input)];
    }
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
