import { closedBy, closedWhileActing } from '../acting.js';
import type { Gate } from './gate.js';

/** What is closed to whoever acts for somebody. */
export const acting: Gate = ({ app, route, visitor }) => {
  const rules = app.policy.impersonation;
  if (rules === null) return null;
  const closed = closedWhileActing(rules, app.router, route, visitor);
  return closed < 0 ? null : { by: 'acting', reason: 'acting', at: closedBy(rules, closed) };
};
