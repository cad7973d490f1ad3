import { indexOf } from '../app/app.js';
import { isSafe } from '../http/messages.js';
import type { Exchange } from '../play/stage.js';
import { oncePerStep } from './once-per-step.js';
import { isAdministration } from '../steps/all-steps.js';
import { eventOf } from '../steps/asking.js';

/** The accounts whose password was changed in a step, by whoever has access to the app or by themselves. */
export const passwordChanges = oncePerStep((view): readonly string[] => {
  const { action, played, before } = view;
  if (isAdministration(action)) {
    return eventOf(action) === 'password-changed' && 'account' in action ? [action.account] : [];
  }
  return played.exchanges.flatMap((exchange) => {
    if (!isChange(exchange)) return [];
    const { route, visitor } = exchange;
    if (route?.task === 'change-password') return visitor.account ?? [];
    return before.links[indexOf('link', [...(route?.parameters.values() ?? [])].at(-1) ?? '')]?.account ?? [];
  });
});

/** Whether a request changed a password: by the form for that, or by a link. */
export function isChange({ route, request, explanation }: Exchange): boolean {
  if (route?.task === 'change-password') return explanation.reason === 'served';
  if (route?.task !== 'reset' || isSafe(request.method)) return false;
  return explanation.reason !== 'unknown-page' && explanation.reason !== 'code-expired';
}
