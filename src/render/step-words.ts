import { formatDuration, type Calling, type Exchange, type Step, type StepResult } from '../core/index.js';

/** What a step asks for, the way the language writes it but without passwords, and from which network. */
export function actionWords(step: Step): string {
  const network = step.connectsFrom === null ? '' : `, connected from ${step.connectsFrom}`;
  return plainWords(step) + network;
}

function plainWords(step: Step): string {
  const { action } = step;
  switch (action.verb) {
    case 'visit':
      return `visit ${action.address}${action.from === null ? '' : ` from ${action.from}`}`;
    case 'send':
      return `send ${action.method} ${action.address}${action.from === null ? '' : ` from ${action.from}`}`;
    case 'login':
      return `login ${action.account}${action.role === null ? '' : ` as ${action.role}`}${action.remember ? ', remembered' : ''}${action.isWrong ? ', wrong password' : ''}${action.from === null ? '' : ` from ${action.from}`}`;
    case 'together':
      return `together ${action.calls.map(callWords).join(', ')}`;
    case 'follow':
      return `follow ${action.link}`;
    case 'code':
      return `code ${action.given}`;
    case 'sign-up':
      return `sign-up ${action.account}`;
    case 'confirm':
      return `confirm ${action.account}`;
    case 'back':
      return action.pages === 1 ? 'back' : `back ${action.pages} pages`;
    case 'clear-cookies':
      return action.name === null ? action.verb : `${action.verb} ${action.name}`;
    case 'copy':
      return `copy ${action.what} to ${action.to}`;
    case 'plant':
      return `plant ${action.what} in ${action.to}`;
    case 'suspend':
    case 'delete-account':
    case 'set-password':
      return `${action.verb} ${action.account}`;
    case 'set-roles':
      return `set-roles ${action.account}: ${action.roles.join(', ') || 'none'}`;
    case 'logout':
    case 'reload':
    case 'new-tab':
    case 'close-tab':
    case 'close-browser':
    case 'open-browser':
    case 'restart-app':
      return action.verb;
    case 'wait':
      return action.until.kind === 'duration'
        ? `wait ${formatDuration(action.until.seconds)}`
        : `wait ${action.until.kind} ${action.until.deadline}`;
  }
}

function callWords({ method, address, tab }: Calling): string {
  return `${method} ${address}${tab === 'behind' ? ' in the tab behind' : ''}`;
}

/** One request of a way: `/berths 302`, with the method where it is not a plain read. */
export interface Hop {
  readonly text: string;
  /** Whether it sent the visitor on, so that the next one follows from it. */
  readonly sendsOn: boolean;
}

/** The way of a step, request by request. */
export function hopsOf(result: StepResult): Hop[] {
  const { exchanges } = result.played;
  return exchanges.map((exchange, at) => ({
    text: `${requestWords(exchange)} ${exchange.response.status}`,
    sendsOn:
      exchange.response.location !== null ||
      exchange.purpose === 'login' ||
      (exchange.purpose === 'refresh' && exchanges[at + 1]?.purpose === 'navigate'),
  }));
}

/** A request as `POST /sign-in`; a plain read is its address alone. */
export function requestWords({ request }: Exchange): string {
  const target = request.path + request.query;
  return request.method === 'GET' ? target : `${request.method} ${target}`;
}
