import type { Clock } from '../time/clock.js';
import type { Account, Policy } from '../language/policy.js';
import type { Seconds } from '../time/duration.js';
import { matches, parametersOf, segmentsOf, type Pattern } from '../paths/pattern.js';
import { changed, handle, indexOf, type AppState, type LinkSent } from './app.js';

/** What a link is for that is sent to somebody. */
export type LinkKind = LinkSent['kind'];

/** Sends a link to an account; the number of the link is that of the last in the state. */
export function sendLink(state: AppState, kind: LinkKind, account: string, clock: Clock): AppState {
  return changed(state, { links: [...state.links, { kind, account, sentAt: clock.now, used: false }] });
}

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

/** The address of a link. */
export function linkAddress({ text }: Pattern, index: number): string {
  return text.replace(/:[^/]+$/, handle('link', index));
}

/** A link that was opened, as far as it is known and its account is still there. */
export interface Opened {
  readonly index: number;
  readonly record: LinkSent;
  readonly account: Account;
}

/** The link of a kind that a path has the secret of; null for one that was never sent, was used, or whose account is gone. */
export function openedLink(
  state: AppState,
  kind: LinkKind,
  parameters: ReadonlyMap<string, string>,
): Opened | null {
  const index = indexOf('link', [...parameters.values()].at(-1) ?? '');
  const record = state.links[index];
  const account = record && state.accounts.get(record.account);
  if (record?.kind !== kind || account === undefined || record.used) return null;
  return { index, record, account };
}

/** A state in which a link was used. */
export function withUsed(state: AppState, { index, record }: Opened): AppState {
  return changed(state, { links: state.links.with(index, { ...record, used: true }) });
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

export const LINK_KINDS: readonly LinkKind[] = ['confirm', 'reset', 'sign-in'];
const NO_PARAMETERS: ReadonlyMap<string, string> = new Map();
