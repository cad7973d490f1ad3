import type { AppState } from '../app/app.js';
import { linkAddress } from '../app/links.js';
import { linkRules, type LinkKind } from '../app/link-rules.js';
import type { Deed } from '../browser/state.js';
import type { Policy } from '../language/policy.js';
import type { Seconds } from '../time/duration.js';

/** The number of the last link of a kind that was sent to an account; -1 for none. */
function lastSent({ links }: AppState, kind: LinkKind, account: string): number {
  return links.findLastIndex((each) => each.kind === kind && each.account === account);
}

/** The address of the last link of a kind that was sent to an account; null where none was. */
export function lastLink(policy: Policy, state: AppState, kind: LinkKind, account: string): string | null {
  const sent = lastSent(state, kind, account);
  const rules = linkRules(policy, kind);
  return sent < 0 || rules === null ? null : linkAddress(rules.pattern, sent);
}

/** Opens that link. */
export function linkTo(policy: Policy, state: AppState, kind: LinkKind, account: string): Deed | null {
  const address = lastLink(policy, state, kind, account);
  return address === null ? null : { deed: 'open', address };
}

/** The second at which a link is opened: at once, or where it is to be late once it is over. In words why it cannot be. */
export function linkOpenedAt(
  policy: Policy,
  state: AppState,
  { kind, account, late }: { readonly kind: LinkKind; readonly account: string; readonly late: boolean },
  time: Seconds,
): Seconds | string {
  const link = state.links[lastSent(state, kind, account)];
  if (!late) return time;
  const life = linkRules(policy, kind)?.life ?? 0;
  return link === undefined ? `no link was sent to ${account}` : Math.max(time, link.sentAt + life);
}
