import { draftOf } from '../../src/core/draft/draft';
import type { Evidence, Exchange, Recording } from '../../src/core/draft/evidence';
import { readSetCookie } from '../../src/core/http/cookies';
import { playWalk } from '../../src/core/walks/runner';
import { otherwiseIn } from '../../src/render/draft/draft-text';
import { draftText } from '../../src/render/draft/policy-text';
import { wordedWalksYaml } from '../../src/render/walk-yaml';
import { project } from './policies';

/** A draft as its text, read back, with what comes out otherwise than it was recorded. */
export function drafted(evidence: Partial<Evidence>) {
  const draft = draftOf({ recordings: [], descriptions: [], ...evidence });
  const text = draftText(draft, ['here']);
  const read = project(text, draft.walks.length === 0 ? [] : [wordedWalksYaml(draft.walks)]);
  const lines = text.split('\n').map((line) => line.trim());
  return { draft, text, lines, otherwise: otherwiseIn(read.walks.map((walk) => playWalk(read.stage, walk))) };
}

/** An exchange in short: `ines POST /sign-in 303 /berths`, with what else is to be said. */
export function exchange(
  at: number,
  line: string,
  more: Partial<Exchange> & { readonly sets?: string } = {},
): Exchange {
  const [method = 'GET', target = '/', status = '200', to] = line.split(' ');
  const [path = '/', query = ''] = target.split('?');
  const { sets, ...rest } = more;
  return {
    at,
    method,
    origin: 'https://harbour.example',
    path,
    query,
    referer: null,
    cookies: new Map(),
    bearer: null,
    sends: null,
    fields: [],
    status: Number(status),
    location: to === undefined ? null : `https://harbour.example${to}`,
    setCookies: sets === undefined ? [] : [readSetCookie(sets) ?? fail(sets)],
    type: 'text/html',
    body: `a page at ${path}`,
    size: null,
    landed: null,
    isDocument: true,
    ...rest,
  };
}

function fail(text: string): never {
  throw new Error(text);
}

/** A recording of somebody, or of a guest. */
export const recording = (person: string | null, exchanges: readonly Exchange[]): Recording => ({
  person,
  from: `${person ?? 'guest'}.har`,
  exchanges,
  lives: new Map<string, number>(),
  isBehindProxy: false,
  isWithoutCookies: false,
});

/** The three exchanges of a login that sets a cookie. */
export const LOGIN = (
  at: number,
  name: string,
  to: string,
  cookie = 'sid=1; Path=/; HttpOnly; Secure; SameSite=Lax',
) => [
  exchange(at, 'GET /in'),
  exchange(at + 1, `POST /in 303 ${to}`, {
    sends: 'form',
    fields: [
      ['email', `${name}@real.example`],
      ['pass', 'Secret-77'],
    ],
    sets: cookie,
  }),
  exchange(at + 2, `GET ${to}`, { cookies: new Map([['sid', '1']]) }),
];
