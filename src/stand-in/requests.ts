import { isIP } from 'node:net';
import {
  indexOf,
  METHODS,
  normalisePath,
  parameterOf,
  pathOf,
  RIGHT_CODE,
  SOME_CLIENT,
  withParameter,
  shownIn,
  type HttpRequest,
  type Login,
  type Method,
  type Policy,
} from '../core/internal.js';
import type { Site } from './site.js';
import type { Wire } from './wire.js';

/** A request as it came over the wire. */
export interface Arrived {
  readonly method: Method;
  /** Path and query as they were sent. */
  readonly target: string;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
  /** The network address at the other end. */
  readonly peer: string;
  readonly fields: ReadonlyMap<string, string>;
}

/** Whether the app half knows a method. */
export function isKnown(method: string): method is Method {
  return (METHODS as readonly string[]).includes(method);
}

/** Tokens and the handles in them. */
export type Opened = ReadonlyMap<string, string>;

/**
 * Opens the tokens that came with a request. It takes time only where one has to be verified, so that requests are answered
 * in the order in which they came.
 */
export async function openTokens(arrived: Arrived, wire: Wire): Promise<Opened> {
  const tokens = wire.tokensIn(textOf(arrived, 'cookie'), textOf(arrived, 'authorization'));
  const named = arrived.fields.get('token');
  if (named !== undefined) tokens.push(named);
  return tokens.length === 0 ? NONE_OPENED : wire.openTokens(tokens);
}

const NONE_OPENED: Opened = new Map();

function textOf({ headers }: Arrived, name: string): string {
  const value = headers[name];
  return typeof value === 'string' ? value : '';
}

/** Makes of a request what the app half takes. */
export function readRequest(arrived: Arrived, site: Site, wire: Wire, opened: Opened): HttpRequest {
  const { method, target } = arrived;
  const text = (name: string) => textOf(arrived, name);
  const mark = target.indexOf('?');
  // Only browsers tell of themselves by Fetch Metadata; whoever else shows a cookie keeps it as long as they like.
  const isBrowser = text('sec-fetch-site') !== '';
  const now = isBrowser ? site.time.now() : null;
  const cookie = wire.openCookies(text('cookie'), now, opened);
  const origin = originOf(site, text('host'), text('x-forwarded-proto'));
  return {
    method,
    origin,
    path: openLink(target.split('?', 1)[0] ?? '', wire),
    query: mark < 0 || target.length === mark + 1 ? '' : openQuery(target, mark, site, wire),
    cookie,
    authorization: wire.openAuthorization(text('authorization'), opened),
    apiKey: site.policy.apiKeys?.sent === 'header' ? wire.openKey(text(site.policy.apiKeys.name)) : '',
    accept: wantsPage(arrived) ? 'text/html' : 'application/json',
    referer: targetOf(text('referer')),
    client: clientOf(arrived.peer, text('x-forwarded-for')),
    crossOrigin: isCrossOrigin(text('sec-fetch-site'), text('origin'), text('host')),
    form: readFields(arrived, cookie, site, wire, opened),
  };
}

/** Whether a page is asked for rather than data (RFC 9110 §12.5.1). Whoever sends JSON and asks for anything is script. */
function wantsPage(arrived: Arrived): boolean {
  const accept = textOf(arrived, 'accept');
  if (accept.includes('text/html')) return true;
  return !accept.includes('json') && !isJson(textOf(arrived, 'content-type'));
}

/** Whether a body is JSON (RFC 8259 §11). */
export function isJson(contentType: string): boolean {
  return /^application\/(?:json|[\w.+-]+\+json)\s*(?:;|$)/i.test(contentType);
}

/** The login whose form a request sends; null for none. */
export function loginAt(
  { method, target }: Pick<Arrived, 'target'> & { readonly method: string },
  { policy }: Site,
): Login | null {
  const sendsThere = ({ submit }: Login) =>
    submit.method === method && pathOf(submit.path) === pathIn(target);
  return policy.logins.find(sendsThere) ?? null;
}

/**
 * The path of a request, normalised before anything reads it, so that no two readers take it for two things; one without a
 * safe reading stays as it is, and the app half refuses it.
 */
function pathIn(target: string): string {
  const [path = ''] = target.split('?', 1);
  return normalisePath(path) ?? path;
}

/** What a login form is to hold, in words. */
export function loginFields({ fields }: Login): string {
  return `${fields.account} and ${fields.password}`;
}

/** Longer names and passwords nobody has; they are not kept, compared or logged. */
const LONGEST = { name: 256, password: 1_024 };

/** Whether a form holds a name or password that is too long to be looked at. */
export function isTooLong({ fields }: Arrived, { policy }: Site): boolean {
  if (fields.size === 0) return false;
  const own = policy.logins.map((login) => login.fields);
  const longer = (names: readonly string[], most: number) =>
    names.some((name) => (fields.get(name) ?? '').length > most);
  return (
    longer(['account', 'as', ...own.map(({ account }) => account)], LONGEST.name) ||
    longer(['password', 'old-password', ...own.map(({ password }) => password)], LONGEST.password)
  );
}

/** What is wrong with the names in a login form; null for one that can be read. One without any field is an empty form. */
export function loginFault(arrived: Arrived, site: Site): string | null {
  const login = arrived.fields.size === 0 || arrived.fields.has('as') ? null : loginAt(arrived, site);
  if (login === null) return null;
  const { account, password } = login.fields;
  if (arrived.fields.has(account) && arrived.fields.has(password)) return null;
  const known = new Set([
    account,
    password,
    'role',
    'remember',
    login.return?.param,
    site.policy.csrf?.field,
  ]);
  const other = [...arrived.fields.keys()].filter((name) => !known.has(name));
  if (other.length === 0) return null;
  return `The login form has the fields ${loginFields(login)}`;
}

/**
 * The origin that a request was meant for: the policy's own where the stand-in was addressed by its own name, else a host
 * that the policy names. The stand-in takes the place of the proxy that ends TLS, so https is what it takes for granted.
 */
function originOf(site: Site, host: string, forwarded: string): string {
  const scheme = forwarded === 'http' || forwarded === 'https' ? forwarded : site.scheme;
  return `${scheme}://${site.hosts.get(nameOf(host)) ?? site.host}`;
}

/** Whether a page of another origin had a request sent: by Fetch Metadata where a browser sends that, else by Origin (RFC 6454 §7). */
function isCrossOrigin(site: string, origin: string, host: string): boolean {
  if (site !== '') return site === 'cross-site' || site === 'same-site';
  return origin !== '' && origin.replace(/^https?:\/\//, '') !== host;
}

/** The name in a Host header (RFC 9110 §7.2), without the port and in lower case. */
export function nameOf(host: string): string {
  return host.replace(/:\d*$/, '').toLowerCase();
}

/** Behind a proxy the address is what the last proxy says; a plain visitor on loopback comes from nowhere in particular. */
function clientOf(peer: string, forwarded: string): string {
  const local = peer === '' || /^(::1|(::ffff:)?127\.)/.test(peer);
  if (!local) return peer.replace(/^::ffff:/, '');
  const last = forwarded.split(',').at(-1)?.trim() ?? '';
  return isIP(last) === 0 ? SOME_CLIENT : last;
}

/** The path and query of a Referer header (RFC 9110 §10.1.3). */
function targetOf(referer: string): string {
  const [, target = ''] = /^https?:\/\/[^/?#]+([^#]*)/.exec(referer) ?? [];
  return target;
}

/** The query of an answer of an identity provider with handles in the place of what was sealed; any other as it was sent. */
function openQuery(target: string, mark: number, { policy }: Site, wire: Wire): string {
  const query = withOpenKey(target.slice(mark), policy, wire);
  const path = pathIn(target);
  if (!policy.providers.some(({ back }) => pathOf(back.path) === path)) return query;
  const opened = (['code', 'state'] as const).flatMap((name) => {
    const value = parameterOf(query, name);
    return value === null ? [] : [[name, wire.seals.open(value)] as const];
  });
  return opened.reduce((all, [name, value]) => withParameter(all, name, value), '');
}

/** A query with a handle in the place of a machine's key, where that stands in the address. */
function withOpenKey(query: string, { apiKeys }: Policy, wire: Wire): string {
  if (apiKeys?.sent !== 'address') return query;
  const parts = query.slice(1).split('&');
  const opened = parts.map((part) => {
    const shown = parameterOf(`?${part}`, apiKeys.name);
    return shown === null ? part : withParameter('', apiKeys.name, wire.openKey(shown)).slice(1);
  });
  return `?${opened.join('&')}`;
}

const LINK = /^link-\d+$/;
const SEALED_LINK = /^link-\d+\.[\w-]+$/;

/** A path with handles in the place of the secrets of sealed links, however they are encoded; any other path as it was sent. */
function openLink(sent: string, wire: Wire): string {
  const path = pathIn(sent);
  if (!path.includes('link-')) return sent;
  const opened = path.split('/').map((segment) => {
    if (LINK.test(segment)) return 'link-';
    return SEALED_LINK.test(segment) ? wire.seals.open(segment) || 'link-' : segment;
  });
  return opened.join('/');
}

/**
 * The fields of a form; of several of one name the last. What OAuth asks for counts as left out where it comes twice
 * (RFC 6749 §3.2).
 */
export function formOf(body: string): ReadonlyMap<string, string> {
  const sent = new URLSearchParams(body);
  const isTwice = (name: string) => OAUTH.has(name) && sent.getAll(name).length > 1;
  return new Map([...sent].filter(([name]) => !isTwice(name)));
}

const OAUTH: ReadonlySet<string> = new Set(['grant_type', 'refresh_token', 'scope', 'token']);

/** The fields of a form with what the wire has made of them undone. */
function readFields(
  arrived: Arrived,
  cookie: string,
  site: Site,
  wire: Wire,
  opened: Opened,
): ReadonlyMap<string, string> {
  const { fields: sent } = arrived;
  if (sent.size === 0) return sent;
  const fields = new Map(sent);
  nameFields(arrived, fields, site);
  const field = site.stage.client.csrfField;
  const own = field === null ? undefined : sent.get(field);
  if (field !== null && own !== undefined) fields.set(field, wire.seals.open(own));
  const refresh = sent.get('refresh_token');
  if (refresh !== undefined) fields.set('refresh_token', wire.seals.open(refresh));
  const token = sent.get('token');
  if (token !== undefined) fields.set('token', opened.get(token) || openHandle(token, wire));
  const code = sent.get('code');
  if (code !== undefined) fields.set('code', code === sentCode(cookie, site, wire) ? RIGHT_CODE : 'wrong');
  const param = site.policy.login?.return?.param;
  const asked = param === undefined ? undefined : sent.get(param);
  // The stand-in has another origin than the policy's: an address that names it means that one.
  const here = `http://${String(arrived.headers['host'])}/`;
  if (param !== undefined && asked?.startsWith(here) === true) {
    fields.set(param, `${site.policy.origin}/${asked.slice(here.length)}`);
  }
  pickAccount(arrived, fields, site);
  return fields;
}

/** What is sealed as it goes out. An access token goes out signed: its id, which it tells to whoever reads it, is none. */
function openHandle(sealed: string, { seals }: Wire): string {
  const handle = seals.open(sealed);
  return indexOf('access', handle) < 0 ? handle : '';
}

/** Puts what the login form holds under the names that the app half knows. */
function nameFields(arrived: Arrived, fields: Map<string, string>, site: Site): void {
  const names = loginAt(arrived, site)?.fields;
  if (names === undefined) return;
  const [account, password] = [fields.get(names.account), fields.get(names.password)];
  fields.delete(names.account);
  fields.delete(names.password);
  if (account !== undefined) fields.set('account', account);
  if (password !== undefined) fields.set('password', password);
}

/** A button of the login form names an account: it stands for its name and its password. */
function pickAccount(arrived: Arrived, fields: Map<string, string>, site: Site): void {
  const picked = site.state.accounts.get(fields.get('as') ?? '');
  if (picked === undefined || loginAt(arrived, site) === null) return;
  fields.set('account', picked.name).set('password', picked.password);
}

/** The one-time code that was sent to the visitor with a Cookie header; null where none was. */
export function sentCode(cookie: string, site: Site, wire: Wire): string | null {
  const shown = shownIn(cookie, site.policy.session.cookie);
  return shown === null ? null : codeOf(indexOf('session', shown), site, wire);
}

/** The one-time code that was sent for a session; null where none was. */
export function codeOf(session: number, site: Site, wire: Wire): string | null {
  const code = site.state.sessions[session]?.code ?? null;
  return code === null ? null : wire.seals.digits(`${session} ${code.sentAt}`);
}
