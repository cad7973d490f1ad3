import type { Policy } from '../language/policy.js';
import { compareAccess, type AccessDiff } from './access.js';
import type { SettingChange } from './settings/facet.js';
import { settingChanges } from './settings/policy-settings.js';
import type { OutcomeDiff } from './verdicts.js';

/** What a change of policy means: who lands elsewhere, and every setting that is another. */
export interface PolicyDiff extends AccessDiff {
  readonly settings: readonly SettingChange[];
}

/** Compares two policies. */
export function diffPolicies(before: Policy, after: Policy): PolicyDiff {
  return { ...compareAccess(before, after), settings: settingChanges(before, after) };
}

/** What a change of policy comes to at worst: somebody sees more, something is looser, something is another, or nothing is. */
export type Worst = 'widened' | 'loosened' | 'changed' | 'same';

/** The worst of all that changed. */
export function worstOf(diff: PolicyDiff, { verdicts, bounds, found, gone }: OutcomeDiff): Worst {
  if (diff.changes.some(({ kind }) => kind === 'widened')) return 'widened';
  const directed = [...diff.settings, ...(verdicts ?? []), ...(bounds ?? [])];
  const isCareless = found.some(({ severity }) => severity !== 'advice');
  if (isCareless || directed.some(({ direction }) => direction === 'loosens')) return 'loosened';
  const others = [...diff.changes, ...diff.onlyBefore, ...diff.onlyAfter, ...found, ...gone];
  return directed.length + others.length > 0 ? 'changed' : 'same';
}
