import { pathOf } from '../app/endpoints.js';
import { addressReader } from '../http/address.js';
import type { Policy } from '../language/policy.js';
import { REFUSAL_KINDS } from '../language/refusals.js';
import type { Exchange } from '../play/stage.js';
import { keysOf } from '../vocabulary/tables.js';
import type { StepResult } from '../walks/runner.js';
import type { Message, Observed } from './observation.js';

/** What an answer comes to: what was asked for, a refusal, or being taken for nobody who may come in. */
export type Verdict = 'given' | 'refused' | 'unknown';

/** The first request of a step that the app answered otherwise than the policy. */
export interface Divergence {
  readonly exchange: Exchange;
  readonly message: Message;
  readonly policy: Verdict;
  readonly app: Verdict;
}

/** Finds where an app leaves the way of the policy; null where it answers alike as far as it is asked alike. */
export function divergenceOf(
  policy: Policy,
  { played: { exchanges } }: StepResult,
  seen: Observed,
): Divergence | null {
  const read = addressReader(policy.routing);
  for (const [at, exchange] of exchanges.entries()) {
    const message = seen.messages[at];
    if (message === undefined || !isSameRequest(exchange, message, read)) return null;
    const { status, location } = exchange.response;
    const isSame = status === message.status && sameLocation(location, message.location, read);
    if (isSame && !message.isAgain) continue;
    if (
      message.isAgain &&
      exchange.response.body.kind === 'page' &&
      exchange.response.body.again !== null &&
      status === message.status
    ) {
      continue;
    }
    const divergence = {
      exchange,
      message,
      policy: verdictOfPolicy(exchange),
      app: verdictOfApp(policy, exchange, message),
    };
    if (seen.isThere === null || divergence.policy !== divergence.app) return divergence;
  }
  return null;
}

type Reader = ReturnType<typeof addressReader>;

function isSameRequest({ request }: Exchange, { method, target }: Message, read: Reader): boolean {
  return request.method === method && read(request.path + request.query) === read(target);
}

function sameLocation(one: string | null, other: string | null, read: Reader): boolean {
  return one === other || (one !== null && other !== null && read(decoded(one)) === read(decoded(other)));
}

function decoded(text: string): string {
  try {
    return decodeURI(text);
  } catch {
    return text;
  }
}

/** Reasons for which something is given, though perhaps elsewhere. */
const GIVING: ReadonlySet<string> = new Set([
  'served',
  'forwarded',
  'unsafe-return',
  'insecure-scheme',
  'guests-only',
]);

function verdictOfPolicy({ explanation: { reason, seenAs }, response }: Exchange): Verdict {
  if (GIVING.has(reason)) return 'given';
  return reason !== 'role' && reason !== 'not-owner' && (seenAs === null || response.status === 401)
    ? 'unknown'
    : 'refused';
}

function verdictOfApp(policy: Policy, exchange: Exchange, { status, location, isAgain }: Message): Verdict {
  if (status === 401) return 'unknown';
  if (status >= 400 || isAgain) return 'refused';
  const to = location === null ? null : targetIn(location, policy.origin);
  if (to === null) return 'given';
  const [path = to] = to.split('?', 1);
  if (path === exchange.request.path && exchange.request.method === 'GET') return 'given';
  const { logins, secondFactor } = policy;
  // A login that was refused leads back to its form; whoever is sent there from elsewhere is not known.
  if (logins.some(({ page }) => path === pathOf(page))) {
    return exchange.route?.task === 'login' ? 'refused' : 'unknown';
  }
  const refusals = exchange.route?.refusals ?? policy.refusals.page;
  const doors = keysOf(REFUSAL_KINDS).flatMap((key) => {
    const chosen = refusals[key];
    return chosen.to === 'path' ? [pathOf(chosen.path)] : [];
  });
  if (secondFactor !== null) doors.push(pathOf(secondFactor.page));
  return doors.includes(path) ? 'refused' : 'given';
}

/** An address on the app's own origin without it. */
export function targetIn(address: string, origin: string): string {
  return address.startsWith(`${origin}/`) ? address.slice(origin.length) : address;
}
