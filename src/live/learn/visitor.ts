import {
  cookieHeader,
  FixedClock,
  readSetCookie,
  storeCookies,
  type CookieJar,
  type SetCookie,
} from '../../core/internal.js';
import { cookieInPolicy } from '../app-cookies.js';
import { AppAddress } from '../app-address.js';
import type { Answer, Transport } from '../transport.js';

/** Redirects that are followed before it is given up. */
const MOST_REDIRECTS = 10;
const NOW = new FixedClock(0);

/** Where a request led in the end. */
export interface Arrival {
  readonly target: string;
  readonly answer: Answer;
  /** The cookies that were set on the way. */
  readonly set: readonly SetCookie[];
}

/** A request that was made, as a recording has it. */
export interface Exchanged {
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly method: string;
  readonly url: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly form: readonly (readonly [string, string])[] | null;
  readonly answer: Answer;
}

/** Somebody who looks at an app by plain requests, and keeps its cookies. */
export class Visitor {
  private jar: CookieJar = [];
  /** The origin under which the app is asked, as it is told. */
  private readonly origin: string;

  constructor(
    private readonly address: AppAddress,
    private readonly transport: Transport,
    /** Whether to stand before the app as a proxy that ends TLS. */
    private readonly isProxy: boolean,
    /** Is told of each request. */
    private readonly record: (exchange: Exchanged) => void = () => undefined,
  ) {
    this.origin = isProxy ? `https://${new URL(address.at).hostname}` : address.origin;
  }

  get cookies(): ReadonlyMap<string, string> {
    return new Map(this.jar.map(({ name, value }) => [name, value]));
  }

  /** Asks for something and follows where it leads, as far as that is the app's own. */
  async ask(
    method: string,
    target: string,
    fields: readonly (readonly [string, string])[] | null = null,
    referer: string | null = null,
  ): Promise<Arrival> {
    const set: SetCookie[] = [];
    let [verb, here, form] = [method, target, fields];
    for (let left = MOST_REDIRECTS; ; left--) {
      const answer = await this.send(verb, here, form, referer);
      set.push(...this.take(answer, here));
      const location = [answer.headers['location'] ?? []].flat()[0];
      const own = location === undefined ? null : this.targetOf(location, here);
      const isOn = answer.status >= 300 && answer.status < 400;
      if (own === null || left === 0 || !isOn) return { target: here, answer, set };
      const isSame = answer.status === 307 || answer.status === 308;
      [verb, here, form] = isSame ? [verb, own, form] : ['GET', own, null];
    }
  }

  /** Where a reference leads within the app; null where it leads off it. */
  targetOf(reference: string, from: string): string | null {
    const next = new AppAddress(this.address.at, this.origin).inPolicy(reference, from);
    if (next.startsWith('/')) return next;
    return next.startsWith(`${this.origin}/`) ? next.slice(this.origin.length) : null;
  }

  private async send(
    method: string,
    target: string,
    form: readonly (readonly [string, string])[] | null,
    referer: string | null,
  ): Promise<Answer> {
    const [path = target, query = ''] = target.split(/(?=\?)/, 2);
    const cookie = cookieHeader(this.jar, { origin: this.origin, path, query }, NOW);
    const body =
      form === null
        ? ''
        : new URLSearchParams(form.map(([name, value]): [string, string] => [name, value])).toString();
    const headers = {
      host: new URL(this.origin).host,
      ...(this.isProxy ? { 'x-forwarded-proto': 'https' } : {}),
      accept: 'text/html,application/xhtml+xml,*/*;q=0.8',
      'user-agent': 'cavrin',
      ...(cookie === '' ? {} : { cookie }),
      ...(form === null ? {} : { 'content-type': 'application/x-www-form-urlencoded', origin: this.origin }),
      ...(referer === null ? {} : { referer: this.origin + referer }),
    };
    const at = Date.now();
    const answer = await this.transport.send(method, target, headers, body);
    this.record({ at, method, url: this.origin + target, headers, form, answer });
    return answer;
  }

  private take({ headers }: Answer, target: string): SetCookie[] {
    const own = [headers['set-cookie'] ?? []]
      .flat()
      .map((header) => cookieInPolicy(header, this.address, this.origin, Date.now()));
    const [path = target] = target.split('?', 1);
    this.jar = storeCookies(this.jar, own, { origin: this.origin, path, query: '' }, NOW).jar;
    return own.flatMap((header) => readSetCookie(header) ?? []);
  }
}
