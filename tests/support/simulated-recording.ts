import type { RecordedExchange, Recording } from '../../src/core/internal';
import type { Policy } from '../../src/core/language/policy';
import { readSetCookie } from '../../src/core/http/cookies';
import { sampleAddress } from '../../src/core/paths/coverage';
import { playSteps } from '../../src/core/walks/runner';
import { readSteps } from '../../src/core/walks/trial';
import type { Exchange, Stage } from '../../src/core/play/stage';

/** A form with a password, as the pages of logins have one. */
const FORM = '<form method="post"><input type="password"></form>';

function recorded(
  { purpose, request, response }: Exchange,
  at: number,
  login: string | null,
): RecordedExchange {
  const { origin, path, query, method, form, cookie, authorization, referer } = request;
  const isDocument = purpose === 'navigate' || purpose === 'login';
  const isScript = request.accept === 'application/json' || purpose === 'call' || purpose === 'refresh';
  const base = `${origin}${path}`;
  const isPage = response.body.kind === 'page';
  return {
    at,
    method,
    origin,
    path,
    query: query.replace(/^\?/, ''),
    referer: referer === '' ? null : referer,
    cookies: new Map(
      cookie === '' ? [] : cookie.split('; ').map((pair) => pair.split(/=(.*)/s, 2) as [string, string]),
    ),
    bearer: /^Bearer (.+)$/.exec(authorization)?.[1] ?? null,
    sends: form.size === 0 ? null : 'form',
    fields: [...form],
    status: response.status,
    location: response.location === null ? null : new URL(response.location, base).href,
    setCookies: response.setCookie.flatMap((header) => readSetCookie(header) ?? []),
    type: isPage ? 'text/html' : 'application/json',
    body:
      response.body.kind === 'tokens'
        ? JSON.stringify({
            access_token: response.body.accessToken,
            expires_in: response.body.expiresIn,
            ...(response.body.refreshToken === null ? {} : { refresh_token: response.body.refreshToken }),
          })
        : isPage
          ? `${path} ${path === login || response.body.again !== null ? FORM : ''}`
          : '',
    size: null,
    landed: null,
    isDocument: isDocument && !isScript,
  };
}

/**
 * What a browser would record of somebody who logs in at a policy's simulated app, opens every page, comes back to the login and logs
 * out; null: of a guest who opens every page. Machines have no browser.
 */
export function simulatedRecording(stage: Stage, person: string | null): Recording {
  const { policy } = stage.app;
  const visits = policy.pages
    .filter(({ kind, answers }) => kind !== 'api' && (answers?.includes('GET') ?? true))
    .map(({ pattern }) => ({ visit: sampleAddress(pattern, () => '17') }));
  const [login] = policy.logins;
  const own =
    person === null || login === undefined
      ? visits
      : [
          { login: person },
          ...codeOf(policy, person),
          ...visits,
          { visit: login.page },
          ...(policy.logout === null ? [] : [{ logout: null }]),
          ...visits.slice(0, 3),
        ];
  const exchanges: RecordedExchange[] = [];
  let here: string | null = null;
  for (const { played } of playSteps(stage, readStepsOf(own, policy)).steps) {
    for (const [at, exchange] of played.exchanges.entries()) {
      const own = recorded(exchange, exchanges.length, login?.page ?? null);
      // What a browser asks for by itself it asks for from the page that it shows.
      exchanges.push(at === 0 || own.referer !== null ? own : { ...own, referer: here });
      if (own.isDocument && own.status < 300) here = `${own.origin}${own.path}`;
    }
  }
  return {
    person,
    from: `${person ?? 'guest'}.har`,
    exchanges,
    lives: new Map(),
    isBehindProxy: false,
    isWithoutCookies: false,
  };
}

/** The code that an account owes at the login. */
function codeOf(policy: Policy, person: string): Record<string, unknown>[] {
  const account = policy.accounts.get(person);
  return account?.secondFactor === true && policy.secondFactor?.asked === 'at-login'
    ? [{ code: 'right' }]
    : [];
}

function readStepsOf(steps: readonly Record<string, unknown>[], policy: Policy) {
  const read = readSteps(policy, steps);
  if (!('steps' in read)) throw new Error(JSON.stringify(read));
  return read.steps;
}
