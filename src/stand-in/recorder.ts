import {
  cookieValue,
  recordedWalk,
  type Administration,
  type AppState,
  type Decided,
  type Happening,
  type HttpRequest,
  type Seconds,
  type Stage,
} from '../core/internal.js';
import { printable } from '../render/style.js';
import { walksYaml } from '../render/walk-yaml.js';

/** The cookie by which browsers are told apart while a walk is recorded; the app half never sees it. */
const BROWSER_COOKIE = 'stand-in-browser';

/** Requests and deeds of one walk: nobody reads longer ones. */
const MOST = 2000;

/** Characters of the requests of one walk: its file is read again, and files have a limit. */
const MOST_TEXT = 150_000;

/** On a clock that runs, shorter pauses are how people read and press; in seconds. */
const SHORTEST_REAL = 60;

/** What the browsers of a walk are called, in the order in which they come. */
const NAMES = ['browser', 'second', 'third', 'fourth'] as const;

/** Notes what happens at a stand-in, so that it can be written as a walk. */
export class Recorder {
  private happenings: Happening[] = [];
  /** How many characters the requests have in all. */
  private size = 0;
  private browsers = new Set<string>();
  /** The browser that what was handed out went to, by its handle: calls with a token come without cookies. */
  private owners = new Map<string, string>();
  private last: string = NAMES[0];

  /** @param start the time at which it begins, on the clock of the stand-in */
  constructor(
    private start: Seconds,
    private readonly clock: 'virtual' | 'real',
  ) {}

  get count(): number {
    return this.happenings.length;
  }

  private get isFull(): boolean {
    return this.happenings.length >= MOST || this.size >= MOST_TEXT;
  }

  /** Forgets what was noted: the app is as at the start again. */
  startAnew(now: Seconds): void {
    this.start = now;
    this.happenings = [];
    this.size = 0;
    this.owners = new Map();
  }

  /**
   * The browser that a request comes from: by its cookie, else by what it shows, else a new one; null where no more is noted.
   *
   * @param header the Cookie header as it came
   */
  browserOf(header: string, request: HttpRequest): string | null {
    if (this.isFull) return null;
    const named = cookieValue(header, BROWSER_COOKIE);
    if (named !== null && this.browsers.has(named)) return this.noted(named);
    const shown = [...handlesIn(`${request.cookie} ${request.authorization}`), ...request.form.values()];
    const owner = shown.map((handle) => this.owners.get(handle)).find((each) => each !== undefined);
    if (owner !== undefined) return this.noted(owner);
    // A call by script without cookies and without a token comes from the page in front.
    if (request.accept === 'application/json' && request.referer !== '' && this.browsers.size > 0) {
      return this.last;
    }
    const name = NAMES[this.browsers.size] ?? `browser-${this.browsers.size + 1}`;
    this.browsers.add(name);
    return this.noted(name);
  }

  /** The Set-Cookie header that lets a browser be known again; null where it has the cookie. */
  cookieFor(browser: string, header: string): string | null {
    if (cookieValue(header, BROWSER_COOKIE) === browser) return null;
    return `${BROWSER_COOKIE}=${browser}; Path=/; HttpOnly; SameSite=Lax`;
  }

  asked(
    browser: string | null,
    asked: { readonly request: HttpRequest; readonly decided: Decided; readonly before: AppState },
    now: Seconds,
  ): void {
    if (browser === null || this.isFull) return;
    this.size += sizeOf(asked.request);
    this.happenings.push({ what: 'request', time: now - this.start, browser, ...asked });
    const { setCookie, body } = asked.decided.response;
    const given = [
      ...setCookie,
      body.kind === 'tokens' ? `${body.accessToken} ${body.refreshToken ?? ''}` : '',
    ];
    for (const handle of given.flatMap(handlesIn)) this.owners.set(handle, browser);
  }

  administered(administration: Administration, now: Seconds): void {
    if (this.isFull) return;
    this.happenings.push({ what: 'administration', time: now - this.start, administration });
  }

  /** The walk so far as a file of walks; what is unlike the recording stands in its head. */
  written(stage: Stage, name: string): string {
    const { steps, unlike } = recordedWalk(stage, this.happenings, this.clock === 'real' ? SHORTEST_REAL : 1);
    const cut = this.isFull ? [`It was cut after ${this.count} requests and deeds.`] : [];
    const head = [
      'Recorded with cavrin serve: what came of each step when it was played again.',
      ...cut,
      ...unlike.map((each) => `Not as recorded: ${printable(each)}`),
    ];
    return walksYaml(steps.length === 0 ? [] : [{ name, steps }], head);
  }

  private noted(browser: string): string {
    this.last = browser;
    return browser;
  }
}

function sizeOf({ path, query, form, referer }: HttpRequest): number {
  return [path, query, referer, ...form.keys(), ...form.values()].reduce(
    (sum, { length }) => sum + length,
    0,
  );
}

/** The handles of sessions and tokens in a text. */
function handlesIn(text: string): string[] {
  return text.match(/\b(?:session|access|refresh|remember)-\d+\b/g) ?? [];
}
