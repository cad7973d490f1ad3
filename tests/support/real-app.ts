import { fork, type ChildProcess } from 'node:child_process';
import { createServer, request as httpRequest, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { isAdministration, type Administration } from '../../src/core/steps/all-steps';
import { initialState } from '../../src/core/app/app';
import { GUEST } from '../../src/core/app/identify';
import { landingEntry } from '../../src/core/app/landing';
import { acceptedReturn } from '../../src/core/app/return-address';
import { TOKEN_COOKIES } from '../../src/core/app/token-cookies';
import { FixedClock } from '../../src/core/time/clock';
import { sourceOf } from '../../src/core/language/source';
import type { Policy } from '../../src/core/language/policy';
import { loadProject } from '../../src/core/walks/project';
import { deedOf } from '../../src/core/steps/all-steps';
import { given, type Giving } from '../../src/core/credentials/holdings';
import { outcomeOf } from '../../src/core/steps/outcome';
import { playWalk, type StepResult } from '../../src/core/walks/runner';
import { stageOf, type Exchange, type Stage } from '../../src/core/play/stage';
import type { Walk } from '../../src/core/steps/walk';
import { WireBrowser, type FrontEnd, type WireExchange } from './wire-browser';

export const REAL = join(__dirname, '..', '..', 'examples', 'real');
export const START = Date.UTC(2026, 0, 1);

/** An app of the examples with its policy and walks. */
export async function realProject(
  name: string,
): Promise<{ readonly policy: Policy; readonly walks: readonly Walk[] }> {
  const read = (file: string) => sourceOf(file, readFileSync(join(REAL, name, file), 'utf8'));
  const { policy, walks, diagnostics } = await loadProject(read('cavrin.yaml'), [read('walks.yaml')]);
  if (policy === null || diagnostics.length > 0) {
    throw new Error(diagnostics.map(({ message }) => message).join('\n'));
  }
  return { policy, walks };
}

/** A real app as a process of its own, whose clock is moved from here. */
export class RealApp {
  private constructor(
    private readonly child: ChildProcess,
    readonly address: string,
    private readonly proxy: Server | null,
  ) {}

  /**
   * @param hasProxy whether a proxy that ends TLS stands before it
   * @param start where its clock stands at first, in milliseconds
   */
  static async start(name: string, hasProxy: boolean, start = START): Promise<RealApp> {
    const child = fork(join(REAL, name, 'app.mjs'), {
      execArgv: ['--import', join(__dirname, 'moved-clock.mjs')],
      env: { ...process.env, CLOCK_START: String(start) },
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
    const port = await new Promise<number>((settle, fail) => {
      child.once('message', (message) => {
        settle((message as { port: number }).port);
      });
      child.once('exit', () => {
        fail(new Error(`${name} does not start`));
      });
    });
    const proxy = hasProxy ? await startProxy(port) : null;
    const open = proxy === null ? port : (proxy.address() as AddressInfo).port;
    return new RealApp(child, `http://127.0.0.1:${open}`, proxy);
  }

  /** Moves its clock to so many seconds from the start. */
  async moveTo(seconds: number): Promise<void> {
    await new Promise<void>((moved) => {
      const hear = (message: unknown) => {
        if ((message as { clock?: number }).clock !== seconds) return;
        this.child.off('message', hear);
        moved();
      };
      this.child.on('message', hear);
      this.child.send({ clock: seconds });
    });
  }

  /** What somebody with access to the app does. */
  tell(action: Administration): void {
    const { verb, ...fields } = action;
    this.child.send({ deed: verb, ...fields });
  }

  stop(): void {
    this.proxy?.close();
    this.child.kill();
  }
}

/** A proxy that ends TLS, as it were: it tells the app by which scheme a request came to it. */
function startProxy(port: number): Promise<Server> {
  const server = createServer((request, response) => {
    const headers = {
      ...request.headers,
      'x-forwarded-proto': request.headers['x-forwarded-proto'] ?? 'https',
    };
    const { method, url: path } = request;
    const onward = httpRequest({ host: '127.0.0.1', port, method, path, headers }, (answer) => {
      response.writeHead(answer.statusCode ?? 502, answer.rawHeaders);
      answer.pipe(response);
    });
    onward.on('error', () => response.writeHead(502).end());
    request.pipe(onward);
  });
  return new Promise((listening) => {
    server.listen(0, '127.0.0.1', () => {
      listening(server);
    });
  });
}

/** What is held against each other of a step: where it lands, with what status, who one is, the way and what is held. */
export interface Told {
  readonly lands: string | null;
  readonly status: number | null;
  readonly seenAs: string | null;
  readonly via: readonly string[];
  readonly refreshes: number;
  readonly holds: readonly string[];
}

/** A walk against a real app over HTTP: the browser half makes the requests, the app answers. */
export class RealPlay {
  private readonly browsers = new Map<string, WireBrowser>();
  private readonly stage: Stage;

  constructor(
    policy: Policy,
    private readonly app: RealApp,
  ) {
    this.stage = stageOf(policy);
  }

  /** What differs from the simulation, step by step. */
  async differences(walk: Walk): Promise<string[]> {
    const found: string[] = [];
    for (const [at, result] of playWalk(this.stage, walk).steps.entries()) {
      if (result.impossible !== null) break;
      const seen = await this.play(result);
      const { lands, status, seenAs, via, refreshes, holds } = result.outcome;
      const expected: Told = { lands, status, seenAs, via, refreshes, holds };
      for (const key of Object.keys(expected) as (keyof Told)[]) {
        const [simulated, real] = [expected[key], seen[key]].map((value) => JSON.stringify(value));
        // A server that refuses an address out of hand asks nobody who it is.
        if (key === 'seenAs' && seen.seenAs === null && seen.status === 400) continue;
        if (simulated !== real) {
          found.push(`${walk.name}, step ${at}: ${key} simulated ${simulated}, real ${real}`);
        }
      }
    }
    return found;
  }

  private browser(name: string): WireBrowser {
    const known = this.browsers.get(name);
    if (known !== undefined) return known;
    const isSinglePage = this.stage.app.policy.login?.by === 'tokens';
    const frontEnd = isSinglePage ? frontEndOf(this.stage) : null;
    const fresh = new WireBrowser(this.stage.client, this.app.address, true, frontEnd);
    this.browsers.set(name, fresh);
    return fresh;
  }

  private async play({ step, time, played }: StepResult): Promise<Told> {
    const { action } = step;
    const browser = this.browser(step.browser);
    jest.setSystemTime(START + time * 1000);
    await this.app.moveTo(time);
    const clock = new FixedClock(time);
    browser.exchanges.length = 0;
    if (action.verb === 'copy' || action.verb === 'plant') {
      await this.give(browser, this.browser(action.to), action, clock);
    } else if (isAdministration(action)) this.app.tell(action);
    else if (action.verb === 'together') {
      throw new Error('calls at one time cannot be told to arrive in one order');
    } else if (action.verb !== 'wait') {
      const deed = deedOf(this.stage, played.state, browser.state, action);
      if (typeof deed === 'string') throw new Error(deed);
      await browser.play(deed, clock);
    }
    return this.told(browser, clock);
  }

  private async told(browser: WireBrowser, clock: FixedClock): Promise<Told> {
    const { exchanges, state } = browser;
    const played = {
      state: initialState(this.stage.app.policy),
      browser: state,
      exchanges: exchanges.map(asExchange),
      cutShort: browser.cutShort,
      refusedCookies: [],
      refusedByScript: null,
    };
    const { lands, status, via, refreshes } = outcomeOf(this.stage, played, clock);
    const seenAs = exchanges.at(-1)?.seenAs ?? null;
    return { lands, status, seenAs, via, refreshes, holds: await this.held(browser) };
  }

  private async held(browser: WireBrowser): Promise<string[]> {
    const { session, remember, tokens } = this.stage.app.policy;
    const isThere = async (name: string) => (await browser.cookie(name)) !== null;
    const all = async (rules: { name: string; others: readonly string[] } | undefined) =>
      rules !== undefined && (await Promise.all([rules.name, ...rules.others].map(isThere))).every(Boolean);
    const held = browser.state.tab.tokens;
    const isToken = async (what: 'access' | 'refresh') =>
      tokens?.kept === 'cookie' ? isThere(TOKEN_COOKIES[what]) : (held?.[what] ?? '') !== '';
    const kinds = [
      ['session', await all(session.cookie)],
      ['access', await isToken('access')],
      ['refresh', await isToken('refresh')],
      ['remember', await all(remember?.cookie)],
    ] as const;
    return kinds.filter(([, isHeld]) => isHeld).map(([what]) => what);
  }

  private async give(from: WireBrowser, to: WireBrowser, giving: Giving, clock: FixedClock): Promise<void> {
    const { what, verb } = giving;
    const { session, remember } = this.stage.app.policy;
    if (what === 'access' || what === 'refresh') {
      to.state = given(this.stage, from.state, to.state, giving, clock) ?? to.state;
      return;
    }
    const rules = what === 'session' ? session.cookie : remember?.cookie;
    for (const name of rules === undefined ? [] : [rules.name, ...rules.others]) {
      await to.take(name, from, verb === 'copy');
    }
  }
}

function asExchange({ purpose, request, response, seenAs }: WireExchange): Exchange {
  const explanation = { seenAs, reason: 'served', decidedBy: [] } as const;
  return { purpose, request, response, explanation, visitor: GUEST, route: null };
}

/** The front end of a policy, as the script of its single page has it. */
function frontEndOf({ app: { policy, router } }: Stage): FrontEnd {
  return {
    pageAt: (path) => {
      const route = router.find('GET', path);
      if (route?.page?.guard !== 'browser') return { guard: null, loads: [] };
      const { grounds, parameters, page } = route;
      return { guard: { audience: grounds.audience, parameters }, loads: page.loads };
    },
    nextFor: ({ roles }, asked) => {
      const rules = policy.login?.return ?? null;
      const back = rules === null || asked === null ? null : acceptedReturn(rules, asked, policy.origin);
      return back ?? landingEntry(policy, { roles, facts: new Map() })?.to ?? '/';
    },
  };
}
