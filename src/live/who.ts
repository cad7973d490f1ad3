import { ASPECTS, SOMEBODY, type Aspect, type LiveConfig, type Observed } from '../core/internal.js';
import { parsed, valueAt } from './json-answers.js';
import type { HttpExchange } from './http-exchange.js';
import type { HtmlPage } from './html-page.js';

/** Whom the app says that it takes the visitor for, or why that is not told. */
export interface SeenIn {
  readonly seenAs: string | null;
  readonly reason: string | null;
}

const untold = (reason: string): SeenIn => ({ seenAs: null, reason });

/** Reads off the last answer of a step whom the app takes the visitor for. */
export function seenIn(who: LiveConfig['who'], last: HttpExchange | null, isScripted: boolean): SeenIn {
  if (last === null) return untold('nothing was asked');
  if (who === null) return untold('live.yaml does not say where the app tells it (who)');
  if (last.response.location !== null) return untold('an answer that sends the visitor on need not tell it');
  switch (who.by) {
    case 'request':
      return untold('only asking for it would tell, which may change it');
    case 'header': {
      const [value] = [last.headers[who.header] ?? []].flat();
      return fromHeader(who, value, last.response.status);
    }
    case 'element':
      if (isScripted) return untold('script draws it, which runs in a browser only');
      if (last.page === null || last.purpose !== 'navigate') return untold('no page came that could tell it');
      return onPage(who, last.page, last.response.status);
  }
}

/** Whom an answer says in its header that it is given to. */
export function fromHeader(
  who: NonNullable<LiveConfig['who']>,
  value: string | undefined,
  status: number,
): SeenIn {
  if (value === undefined && status >= 400) return untold('an answer that refuses need not tell it');
  return told(who, value?.trim() ?? 'guest');
}

/** Whom a page says that it is shown to. */
export function onPage(
  who: Extract<NonNullable<LiveConfig['who']>, { by: 'element' }>,
  page: Pick<HtmlPage, 'text' | 'has'>,
  status: number,
): SeenIn {
  const said = page.text(who.selector, who.attribute);
  if (said !== null && said !== '') return told(who, said);
  if (who.signedInWhere !== null && page.has(who.signedInWhere)) return { seenAs: SOMEBODY, reason: null };
  return status < 400 ? { seenAs: 'guest', reason: null } : untold('a page that refuses need not tell it');
}

/** Whom the answer to a request says that it is given to; a refusal, or nothing at its place, is a guest's. */
export function fromJson(who: NonNullable<LiveConfig['who']>, status: number, body: string): SeenIn {
  if (who.by !== 'request') return untold('nothing was asked');
  if (status >= 500) return untold('the app failed to tell it');
  const said = status >= 400 ? null : valueAt(parsed(body), who.pointer);
  return told(who, typeof said === 'string' || typeof said === 'number' ? String(said) : 'guest');
}

/** What is seen where nothing was asked for but who one is. */
export function onlyWho(seen: Observed, { seenAs, reason }: SeenIn): Observed {
  const others = ASPECTS.filter((aspect) => aspect !== 'seen-as').map((aspect): [Aspect, string] => [
    aspect,
    'only who one is was asked',
  ]);
  const unjudged = new Map([
    ...others,
    ...(reason === null ? [] : [['seen-as', reason] as [Aspect, string]]),
  ]);
  return { ...seen, seenAs, toldBy: 'answer', isThere: null, unjudged };
}

function told({ accounts }: NonNullable<LiveConfig['who']>, said: string): SeenIn {
  const exact = accounts.get(said);
  if (exact !== undefined) return { seenAs: exact, reason: null };
  const inside = [...accounts].filter(([words]) => said.includes(words));
  const [only] = inside;
  return inside.length === 1 && only !== undefined
    ? { seenAs: only[1], reason: null }
    : { seenAs: said, reason: null };
}
