import type { Clock } from '../time/clock.js';
import type { HttpRequest } from '../http/messages.js';
import type { Path } from '../language/text/yaml-text.js';
import type { Seconds } from '../time/duration.js';
import { explain, redirect, refuseWith, type Answer } from './answer.js';
import type { AppState } from './app.js';
import { openedLink, type Opened } from './links.js';
import { type LinkKind } from './link-rules.js';

/** A link that was opened in time; or the answer to one that was never sent or used before, and to one that is over. */
export function openLinkOf(
  kind: LinkKind,
  state: AppState,
  request: HttpRequest,
  parameters: ReadonlyMap<string, string>,
  {
    at,
    life,
    back,
  }: {
    readonly at: Path;
    readonly life: Seconds;
    /** Where whoever comes too late is sent. */
    readonly back: string;
  },
  clock: Clock,
): { readonly opened: Opened; readonly refused: null } | { readonly opened: null; readonly refused: Answer } {
  const opened = openedLink(state, kind, parameters);
  if (opened === null) {
    const explanation = explain(null, 'unknown-page', at);
    return { opened, refused: { state, response: refuseWith(404, request), explanation } };
  }
  if (!clock.elapsed(opened.record.sentAt, life)) return { opened, refused: null };
  const explanation = explain(null, 'code-expired', [...at, 'life']);
  return { opened: null, refused: { state, response: redirect(request.method, back), explanation } };
}
