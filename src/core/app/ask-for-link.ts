import type { Clock } from '../time/clock.js';
import type { HttpRequest } from '../http/messages.js';
import type { Path } from '../language/text/yaml-text.js';
import { explain, refuseWith, type Answer } from './answer.js';
import type { AppState } from './app.js';
import { sendLink } from './links.js';
import { goOn } from './way-in.js';

/** What is said of a form that sends a link. */
interface LinkForm {
  readonly at: Path;
  readonly page: string;
  readonly lands: string;
  readonly tells: boolean;
}

/** Sends a link to the account that a form names, and answers alike where there is none. */
export function askForLink(
  state: AppState,
  request: HttpRequest,
  clock: Clock,
  kind: 'reset' | 'sign-in',
  { at, lands, tells }: LinkForm,
): Answer {
  const name = request.form.get('account') ?? '';
  const known = state.accounts.get(name);
  // A machine reads no mail.
  const isKnown = known !== undefined && !known.key;
  if (!isKnown && tells) {
    const response = refuseWith(404, request);
    return { state, response, explanation: explain(null, 'account-gone', [...at, 'tells']) };
  }
  const after = isKnown ? sendLink(state, kind, name, clock) : state;
  return { state: after, response: goOn(request, lands, []), explanation: explain(null, 'served', at) };
}
