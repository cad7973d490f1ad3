import type { HttpRequest, HttpResponse, Message, Purpose } from '../core/internal.js';
import type { HtmlPage } from './html-page.js';
import type { Answer } from './transport.js';

/** One request with its answer, and the page in it where it is one. */
export interface HttpExchange {
  readonly purpose: Purpose['kind'] | 'machine';
  readonly request: HttpRequest;
  readonly response: HttpResponse;
  readonly headers: Answer['headers'];
  readonly page: HtmlPage | null;
  readonly text: string;
}

/** What is compared of a request and its answer. */
export function messageOf({
  request: { method, path, query },
  response: { status, location, body },
}: HttpExchange): Message {
  return {
    method,
    target: path + query,
    status,
    location,
    isAgain: body.kind === 'page' && body.again !== null,
  };
}

/** The same as the simulation has it, of whose reasons nothing is known. */
export function asExchange({ purpose, request, response }: HttpExchange) {
  const explanation = { seenAs: null, reason: 'served', decidedBy: [] } as const;
  return { purpose, request, response, explanation, visitor: NOBODY, route: null };
}

const NOBODY = { account: null } as never;
