import type { Policy } from '../language/policy.js';
import { matches, parametersOf, segmentsOf, type Pattern } from '../paths/pattern.js';
import type { Seconds } from '../time/duration.js';

/** What a link is for that is sent to somebody: to confirm a new account, to choose a new password, or to log in by. */
const LINK_KINDS = ['confirm', 'reset', 'sign-in'] as const;
export type LinkKind = (typeof LINK_KINDS)[number];

/** The path and the life of the links of a kind; null where a policy sends none. */
export function linkRules(
  { confirm, password, linkLogin }: Pick<Policy, 'confirm' | 'password' | 'linkLogin'>,
  kind: LinkKind,
): { readonly pattern: Pattern; readonly life: Seconds } | null {
  switch (kind) {
    case 'confirm':
      return confirm;
    case 'reset':
      return password?.reset?.link ?? null;
    case 'sign-in':
      return linkLogin?.link ?? null;
  }
}

/** The secret in the address of a link. */
export function linkParameters(policy: Policy, path: string): ReadonlyMap<string, string> {
  const segments = segmentsOf(path);
  for (const kind of LINK_KINDS) {
    const pattern = linkRules(policy, kind)?.pattern;
    if (pattern !== undefined && matches(pattern, segments)) return parametersOf(pattern, segments);
  }
  return NO_PARAMETERS;
}

const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();
