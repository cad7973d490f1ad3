import type { Clock } from '../time/clock.js';
import type { Account } from '../language/policy.js';
import type { Pattern } from '../paths/pattern.js';
import { changed, handle, indexOf, type AppState, type LinkSent } from './app.js';
import type { LinkKind } from './link-rules.js';

/** Sends a link to an account; the number of the link is that of the last in the state. */
export function sendLink(state: AppState, kind: LinkKind, account: string, clock: Clock): AppState {
  return changed(state, { links: [...state.links, { kind, account, sentAt: clock.now, used: false }] });
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
