import { stepWords, type Exchange, type Step, type StepResult } from '../core/internal.js';

/** What a step asks for, the way the language writes it but without passwords, and from which network. */
export function actionWords(step: Step): string {
  const network = step.connectsFrom === null ? '' : `, connected from ${step.connectsFrom}`;
  return stepWords(step.action) + network;
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
