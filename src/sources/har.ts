import { decodeJwt } from 'jose';
import * as z from 'zod';
import {
  isMethod,
  membersIn,
  parseCookieDate,
  readSetCookie,
  type Diagnostic,
  type RecordedExchange,
  type Recording,
  type SetCookie,
  type Source,
} from '../core/internal.js';
import { badSource } from './bad-source.js';
import { readData } from './data.js';

const pairs = z.array(z.object({ name: z.string(), value: z.string().catch('') })).catch([]);
const entry = z.object({
  startedDateTime: z.string().catch(''),
  _resourceType: z.string().optional().catch(undefined),
  /** Written by the rounds of `--at`: no browser writes it. */
  _landed: z.string().optional().catch(undefined),
  request: z.object({
    method: z.string(),
    url: z.string(),
    headers: pairs,
    cookies: pairs.optional(),
    postData: z
      .object({ mimeType: z.string().catch(''), text: z.string().catch(''), params: pairs.optional() })
      .partial()
      .optional()
      .catch(undefined),
  }),
  response: z.object({
    // Browsers write 0 or -1 where no answer came.
    status: z.number().int().min(100).max(599).catch(0),
    headers: pairs,
    redirectURL: z.string().catch(''),
    content: z
      .object({ mimeType: z.string(), text: z.string(), encoding: z.string(), size: z.number() })
      .partial()
      .optional()
      .catch(undefined),
  }),
});
type Entry = z.output<typeof entry>;
const har = z.object({ log: z.object({ entries: z.array(z.unknown()) }) });

/** Reads a recording in the HTTP Archive format, version 1.1 or 1.2, whichever browser saved it. */
export function readHar(source: Source, person: string | null): Recording | Diagnostic {
  const read = readData(source, 'a recording in the HAR format');
  if (!('data' in read)) return read;
  const file = har.safeParse(read.data);
  if (!file.success) {
    return badSource(source, 0, {
      problem: 'this is no HAR recording: it has no log with entries',
      remedy: 'save it in the network tools of a browser, as HAR with content and with sensitive data',
    });
  }
  const entries = file.data.log.entries
    .map((each) => entry.safeParse(each))
    .flatMap((each) => (each.success ? [each.data] : []))
    .map((each) => ({ each, time: Date.parse(each.startedDateTime) }))
    .sort((one, other) => (one.time || 0) - (other.time || 0));
  const start = entries.find(({ time }) => !Number.isNaN(time))?.time ?? 0;
  const exchanges = entries.flatMap(
    ({ each, time }) => exchangeOf(each, Number.isNaN(time) ? start : time, start) ?? [],
  );
  const isBehindProxy = entries.some(
    ({ each: { request } }) =>
      request.url.startsWith('https:') &&
      request.headers.some(({ name, value }) => /^x-forwarded-proto$/i.test(name) && value === 'https'),
  );
  const isBare = exchanges.every(
    ({ cookies, setCookies, bearer }) => cookies.size === 0 && setCookies.length === 0 && bearer === null,
  );
  return {
    person,
    from: source.file,
    exchanges,
    lives: livesIn(exchanges),
    isBehindProxy,
    isWithoutCookies: person !== null && isBare,
  };
}

function exchangeOf(
  { request, response, _resourceType, _landed }: Entry,
  time: number,
  start: number,
): RecordedExchange | null {
  if (!URL.canParse(request.url)) return null;
  const url = new URL(request.url);
  if (url.protocol !== 'http:' && url.protocol !== 'https:') return null;
  const method = request.method.toUpperCase();
  // What no page is asked by says nothing of pages.
  if (!isMethod(method)) return null;
  const header = (name: string, of: Entry['request' | 'response'] = request) =>
    of.headers.find((each) => each.name.toLowerCase() === name)?.value ?? null;
  const type =
    (response.content?.mimeType ?? header('content-type', response) ?? '')
      .split(';')[0]
      ?.trim()
      .toLowerCase() ?? '';
  const target = header('location', response) ?? (response.redirectURL === '' ? null : response.redirectURL);
  const [, bearer = null] = /^Bearer\s+(\S+)$/i.exec(header('authorization') ?? '') ?? [];
  const body = sentIn(request.postData);
  const clock = Date.parse(header('date', response) ?? '');
  return {
    at: (time - start) / 1000,
    method,
    origin: url.origin,
    path: url.pathname,
    query: url.search.replace(/^\?/, ''),
    referer: header('referer'),
    cookies: cookiesOf(header('cookie'), request.cookies ?? []),
    bearer,
    ...body,
    status: response.status,
    location: target !== null && URL.canParse(target, url.href) ? new URL(target, url).href : null,
    setCookies: setCookiesOf(response.headers, Number.isNaN(clock) ? time : clock),
    type,
    body: textOf(response.content),
    size: (response.content?.size ?? -1) > 0 ? (response.content?.size ?? null) : null,
    landed: _landed ?? null,
    isDocument: isDocument(
      _resourceType,
      header('sec-fetch-dest'),
      header('accept'),
      header('x-requested-with'),
    ),
  };
}

function isDocument(
  kind: string | undefined,
  dest: string | null,
  accept: string | null,
  by: string | null,
): boolean {
  if (dest !== null) return dest === 'document';
  if (kind !== undefined) return kind === 'document';
  return by === null && (accept ?? '').trimStart().startsWith('text/html');
}

function cookiesOf(
  header: string | null,
  listed: readonly { name: string; value: string }[],
): ReadonlyMap<string, string> {
  const written = (header ?? '').split(/;\s*/).flatMap((pair) => {
    const at = pair.indexOf('=');
    return at > 0 ? [[pair.slice(0, at), pair.slice(at + 1)] as const] : [];
  });
  return new Map([...listed.map(({ name, value }) => [name, value] as const), ...written]);
}

/** The cookies that an answer sets; browsers write several into one header, a line each. A date becomes a life. */
function setCookiesOf(headers: readonly { name: string; value: string }[], clock: number): SetCookie[] {
  const lines = headers
    .filter(({ name }) => name.toLowerCase() === 'set-cookie')
    .flatMap(({ value }) => value.split('\n'));
  const now = parseCookieDate(new Date(clock).toUTCString()) ?? 0;
  return lines.flatMap((line): SetCookie[] => {
    const cookie = readSetCookie(line);
    if (cookie === null) return [];
    const left = cookie.maxAge ?? (cookie.expires === null ? null : cookie.expires - now);
    // Answers take a moment: what is left of a minute or more is told in steps of five seconds.
    const life = left !== null && left >= 60 ? Math.round(left / 5) * 5 : left;
    return [{ ...cookie, maxAge: life, expires: null }];
  });
}

function sentIn(data: Entry['request']['postData']): Pick<RecordedExchange, 'sends' | 'fields'> {
  if (data === undefined) return { sends: null, fields: [] };
  const { mimeType = '', text = '', params = [] } = data;
  if (/json/i.test(mimeType)) {
    const fields = membersIn(text).flatMap(([name, value]) =>
      ['string', 'number', 'boolean'].includes(typeof value) ? [[name, String(value)] as const] : [],
    );
    return { sends: 'json', fields };
  }
  if (params.length > 0) {
    return { sends: 'form', fields: params.map(({ name, value }) => [plus(name), plus(value)]) };
  }
  if (/urlencoded/i.test(mimeType)) return { sends: 'form', fields: [...new URLSearchParams(text)] };
  return { sends: text === '' ? null : 'other', fields: [] };
}

/** Some browsers save the fields of a form as they were sent, others as they were filled in. */
function plus(text: string): string {
  if (!/%[0-9a-f]{2}/i.test(text)) return text;
  try {
    return decodeURIComponent(text.replaceAll('+', ' '));
  } catch {
    return text;
  }
}

function textOf(content: Entry['response']['content']): string | null {
  if (content?.text === undefined) return null;
  return content.encoding === 'base64' ? Buffer.from(content.text, 'base64').toString('utf8') : content.text;
}

/** How long tokens are good by their own claims (RFC 7519 §4.1.4, §4.1.6). */
function livesIn(exchanges: readonly RecordedExchange[]): ReadonlyMap<string, number> {
  const texts = exchanges.flatMap(({ bearer, body, type }) => [
    ...(bearer === null ? [] : [bearer]),
    ...(/json/.test(type)
      ? membersIn(body).flatMap(([, value]) => (typeof value === 'string' ? [value] : []))
      : []),
  ]);
  const lives = new Map<string, number>();
  for (const text of new Set(texts)) {
    if (!/^[\w-]+\.[\w-]+\.[\w-]*$/.test(text)) continue;
    try {
      const { exp, iat } = decodeJwt(text);
      if (exp !== undefined && iat !== undefined && exp > iat) lives.set(text, exp - iat);
    } catch {
      // It looks like a token and is none.
    }
  }
  return lives;
}
