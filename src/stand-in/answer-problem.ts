import type { FastifyReply } from 'fastify';

/** Answers with a refusal that says no more than its status and a short title (RFC 9457). */
export function answerProblem(reply: FastifyReply, status: number, title: string): FastifyReply {
  return reply
    .code(status)
    .type('application/problem+json')
    .send(`${JSON.stringify({ type: 'about:blank', title, status })}\n`);
}
