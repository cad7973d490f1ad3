import { endpointsOf, type AppEndpoint } from '../app/endpoints.js';
import type { Reason } from '../app/reasons.js';
import type { Task } from '../app/tasks.js';
import type { Policy } from '../language/policy.js';
import type { Meter } from './meter.js';

/** What can go wrong on a way, for the tasks of which a walk must see that as well. */
const REFUSED: Readonly<Partial<Record<Task, readonly Reason[]>>> = {
  login: ['wrong-password'],
  code: ['code-wrong', 'code-expired'],
  reset: ['code-expired'],
  confirm: ['code-expired'],
  'open-link': ['code-expired'],
};

const WORDS: Readonly<Record<Task, string>> = {
  login: 'the login',
  logout: 'the logout',
  refresh: 'the refresh of tokens',
  'sign-up': 'the sign-up',
  confirm: 'the confirmation of a new account',
  code: 'the one-time code',
  revoke: 'the calling back of tokens',
  'change-password': 'the change of a password',
  'ask-reset': 'the request for a new password',
  reset: 'the choice of a new password by a link',
  'ask-link': 'the request for a link to log in by',
  'open-link': 'the login by a link',
  'provider-start': 'the way to an identity provider',
  'provider-back': 'the way back from an identity provider',
  'act-for': 'acting for somebody',
  'stop-acting': 'the end of acting for somebody',
};

/** Every step of a way in or out: that it is taken, and that it is refused where there is a way to fail. */
export function waysMeter(policy: Policy): Meter {
  const endpoints = endpointsOf(policy).filter(({ task, method }) => task !== 'reset' || method === 'POST');
  return {
    group: 'ways in and out',
    coverables: endpoints.flatMap((endpoint) => [
      { key: keyOf(endpoint, 'taken'), subject: nameOf(endpoint), aspect: 'taken', at: endpoint.at },
      ...(REFUSED[endpoint.task] ?? []).map((reason) => ({
        key: keyOf(endpoint, reason),
        subject: nameOf(endpoint),
        aspect: `refused: ${reason}`,
        at: endpoint.at,
      })),
    ]),
    touchedBy: ({ played, stage }) =>
      played.exchanges.flatMap(({ route, request, explanation, response }) => {
        if (!route?.task) return [];
        const endpoint = endpoints.find(
          ({ task, method, pattern }) =>
            task === route.task &&
            (method === request.method || task === 'reset') &&
            stage.app.router.covers(pattern, route.path),
        );
        if (endpoint === undefined) return [];
        const { reason } = explanation;
        const isTaken = response.status < 400 && (TAKEN.has(reason) || endpoint.task === 'logout');
        return [keyOf(endpoint, isTaken ? 'taken' : reason)];
      }),
  };
}

const TAKEN: ReadonlySet<Reason> = new Set<Reason>(['served', 'forwarded', 'code-needed', 'unsafe-return']);

function keyOf({ task, method, pattern }: AppEndpoint, how: string): string {
  return `${task} ${method} ${pattern.text} ${how}`;
}

function nameOf({ task, method, pattern }: AppEndpoint): string {
  return `${WORDS[task]} (${method} ${pattern.text})`;
}
