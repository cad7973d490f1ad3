import type { Deed } from '../../src/core/browser/state';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { TOKEN_COOKIES } from '../../src/core/app/token-cookies';
import { ANOTHER_SITE } from '../../src/core/http/site';
import { initialState, type AppState } from '../../src/core/app/app';
import type { HeldTokens } from '../../src/core/browser/state';
import { FixedClock } from '../../src/core/time/clock';
import type { Policy } from '../../src/core/language/policy';
import { deedOf, type PersonAction } from '../../src/core/steps/all-steps';
import { givenBy } from '../../src/core/steps/asking';
import type { PlantAnswer } from '../../src/core/steps/provider-steps';
import { PROVIDER_PATHS } from '../../src/core/vocabulary/provider-paths';
import { given, type Giving } from '../../src/core/credentials/holdings';
import { playWalk, type StepResult } from '../../src/core/walks/runner';
import { answered, stageOf, type Answered, type Stage } from '../../src/core/play/stage';
import type { Walk } from '../../src/core/steps/walk';
import { thawed } from '../../src/core/browser/tabs';
import { startStandIn, type StandIn } from '../../src/stand-in/server';
import { steeringFields } from './steering';
import { sendOver, WireBrowser } from './wire-browser';

const DIST = join(__dirname, '..', '..', 'dist');
const asset = (name: string) => readFileSync(join(DIST, name), 'utf8');

/** The virtual clock starts here on the clock by which tough-cookie judges lives. */
export const START = Date.UTC(2026, 0, 1);

/** A stand-in of a policy in this process, its clock standing still. */
export function standInOf(policy: Policy, clock: 'virtual' | 'real' = 'virtual'): Promise<StandIn> {
  const assets = { script: asset('page.js'), style: asset('style.css'), icon: asset('icon.svg') };
  return startStandIn({ policy, lineOf: () => 1, clock, host: '127.0.0.1', port: 0, assets });
}

/** Steers a stand-in by its JSON interface. */
export async function steer(
  { address, secret }: Pick<StandIn, 'address' | 'secret'>,
  deed: string,
  fields: Record<string, string> = {},
): Promise<void> {
  const headers = {
    host: new URL(address).host,
    authorization: `Bearer ${secret}`,
    'content-type': 'application/x-www-form-urlencoded',
  };
  const answer = await sendOver(
    address,
    'POST',
    `/-/${deed}`,
    headers,
    new URLSearchParams(fields).toString(),
  );
  if (answer.status !== 200) throw new Error(`${deed}: ${answer.body}`);
}

/** A request with all that was decided on it, as one line. */
export const told = (entry: Answered) =>
  `${entry.method} ${entry.target} ${entry.status} ${entry.location ?? '-'} ${entry.seenAs} ${entry.actedBy ?? ''} ${entry.why}`;

/**
 * Plays a walk against a stand-in, over HTTP and with tough-cookie as the jar, and gives every difference from the
 * simulation: the requests that were made, what was decided on each, where each step landed, and what is held after it.
 */
export async function differencesOverWire(policy: Policy, walk: Walk): Promise<string[]> {
  jest.setSystemTime(START);
  const standIn = await standInOf(policy);
  try {
    return await new WirePlay(stageOf(policy), standIn).compare(walk);
  } finally {
    await standIn.stop();
  }
}

class WirePlay {
  private readonly browsers = new Map<string, WireBrowser>();
  /** Access and refresh tokens as they went over the wire, by their handles. */
  private readonly tokens = new Map<string, string>();
  private state: AppState;

  constructor(
    private readonly stage: Stage,
    private readonly standIn: StandIn,
  ) {
    this.state = initialState(stage.app.policy);
  }

  async compare(walk: Walk): Promise<string[]> {
    const differences: string[] = [];
    for (const [at, result] of playWalk(this.stage, walk).steps.entries()) {
      if (result.impossible !== null) break;
      const seen = await this.play(result);
      const expected = [
        ...result.played.exchanges.map((exchange) => told(answered(exchange))),
        ...this.restOf(result),
      ];
      if (seen.join('\n') !== expected.join('\n')) {
        differences.push(
          `${walk.name}, step ${at}\n  simulated:\n${expected.join('\n')}\n  over the wire:\n${seen.join('\n')}`,
        );
        break;
      }
      this.state = result.played.state;
    }
    return differences;
  }

  private browser(name: string): WireBrowser {
    const known = this.browsers.get(name);
    if (known !== undefined) return known;
    const at = this.standIn.site.providers;
    const providers = new Map(
      this.stage.app.policy.providers.map(({ issuer, name: of }) => [issuer, at.get(of) ?? '']),
    );
    const fresh = new WireBrowser(this.stage.client, this.standIn.address, providers);
    this.browsers.set(name, fresh);
    return fresh;
  }

  /** Where a step landed and what is held after it. */
  private restOf({ outcome, played }: StepResult): string[] {
    const page = played.browser.tab.page;
    return [
      `at ${page?.address.path ?? 'no page'} ${page?.status ?? ''} with ${page?.parts.join(' ') ?? ''}`,
      `holds ${outcome.holds.join(' ')}`,
    ];
  }

  private async play(result: StepResult): Promise<string[]> {
    const { step, time } = result;
    const { action } = step;
    const browser = this.browser(step.browser);
    if (step.connectsFrom !== null) browser.state = { ...browser.state, client: step.connectsFrom };
    jest.setSystemTime(START + time * 1000);
    await steer(this.standIn, 'clock', { to: String(time) });
    const clock = new FixedClock(time);
    const planted = action.verb === 'plant-answer' ? await this.answerOf(action) : null;
    const before = this.standIn.site.entries.at(-1)?.number ?? 0;
    switch (action.verb) {
      case 'wait':
        break;
      case 'copy':
      case 'plant':
        await this.give(browser, this.browser(action.to), givenBy(action), clock);
        break;
      case 'together':
        await this.replay(browser, result);
        break;
      case 'plant-answer':
        if (planted !== null) await browser.play(planted, clock);
        break;
      case 'suspend':
      case 'delete-account':
      case 'set-roles':
      case 'set-facts':
      case 'set-flag':
      case 'set-password':
      case 'rotate-key':
      case 'revoke-key':
      case 'restart-app':
        // What is not there is left alone in a walk, and refused by the steering interface.
        if (!('account' in action) || this.state.accounts.has(action.account)) {
          await steer(this.standIn, action.verb, steeringFields(action));
        }
        break;
      default:
        if (action.verb === 'send' && action.key !== undefined) await this.sendByKey(result);
        else await browser.play(await this.deed(browser, action, result), clock);
    }
    this.learn(browser.state.tab.tokens);
    const seen = this.standIn.site.entries.filter(({ number }) => number > before).map(told);
    const { page } = browser.state.tab;
    // The secret of a link is sealed on the wire.
    const at = page?.address.path.replace(/(link-\d+)\.[\w-]+/, '$1');
    return [
      ...seen,
      `at ${at ?? 'no page'} ${page?.status ?? ''} with ${page?.parts.join(' ') ?? ''}`,
      `holds ${(await this.held(browser)).join(' ')}`,
    ];
  }

  /** A machine's request, with the key as the steering pages show it. */
  private async sendByKey({ played }: StepResult): Promise<void> {
    const { apiKeys } = this.stage.app.policy;
    const [made] = played.exchanges;
    if (apiKeys === null || made === undefined) return;
    const { address } = this.standIn;
    const { method, path, query, origin, authorization, apiKey, client } = made.request;
    const standing = await sendOver(address, 'GET', '/-/state', { host: new URL(address).host });
    const { keys } = JSON.parse(standing.body) as { keys: { key: string }[] };
    const wire = (text: string) =>
      text.replace(/\bkey-(\d+)/, (_, number) => keys[Number(number) - 1]?.key ?? '');
    const { host } = new URL(origin);
    const isHome = origin === this.stage.app.policy.origin;
    await sendOver(address, method, path + wire(query), {
      host: isHome ? new URL(address).host : host,
      accept: 'application/json',
      'x-forwarded-for': client,
      ...(authorization === '' ? {} : { authorization: wire(authorization) }),
      ...(apiKey === '' ? {} : { [apiKeys.name]: wire(apiKey) }),
    });
  }

  private async deed(browser: WireBrowser, action: PersonAction, { played }: StepResult): Promise<Deed> {
    const deed = deedOf(this.stage, this.state, browser.state, action);
    if (typeof deed === 'string') throw new Error(deed);
    if (action.verb === 'code' && action.given !== 'wrong') {
      // The code is read where its receiver would read it: in the message, or on the page.
      const codes = (await this.messages()).filter(({ kind }) => kind === 'code');
      return filledWith(deed, new Map([['code', codes.at(-1)?.text ?? 'none']]));
    }
    if (action.verb === 'confirm' || action.verb === 'open-link') {
      return { deed: 'open', address: await this.linkTo(action.account, played.exchanges[0]?.request.path) };
    }
    if (action.verb === 'reset') {
      const at = await this.linkTo(action.account, played.exchanges[0]?.request.path);
      return deed.deed === 'fill-in' ? { ...deed, fill: { ...deed.fill, at } } : deed;
    }
    // Whose browser it is the app alone knows over the wire; its owner knows the old password.
    const sent = played.exchanges.find(({ request }) => request.form.has('old-password'))?.request.form;
    return action.verb === 'change-password' && sent !== undefined ? filledWith(deed, sent) : deed;
  }

  /** A link with the answer of a provider, which somebody got and did not follow. */
  private async answerOf({ account, provider: name }: PlantAnswer): Promise<Deed> {
    const { address, site } = this.standIn;
    const provider = this.stage.app.policy.providers.find((each) => each.name === name);
    const asked = await sendOver(address, 'GET', provider?.start.path ?? '/', {
      host: new URL(address).host,
    });
    const to = site.providers.get(name) ?? '';
    const fields = new URL(String(asked.headers['location'])).searchParams;
    fields.set('person', account);
    const headers = { host: new URL(to).host, 'content-type': 'application/x-www-form-urlencoded' };
    const answer = await sendOver(to, 'POST', PROVIDER_PATHS.login, headers, fields.toString());
    const back = String(answer.headers['location']).slice(address.length);
    return { deed: 'open', address: this.stage.app.policy.origin + back, from: ANOTHER_SITE };
  }

  private async messages(): Promise<{ kind: string; to: string; text: string }[]> {
    const { address } = this.standIn;
    const { body } = await sendOver(address, 'GET', '/-/state', { host: new URL(address).host });
    return (JSON.parse(body) as { messages: { kind: string; to: string; text: string }[] }).messages;
  }

  /** The last link that was sent to somebody, of the kind that the simulation knows by another secret. */
  private async linkTo(account: string, simulated = '/'): Promise<string> {
    const before = simulated.replace(/[^/]+$/, '');
    const links = (await this.messages()).filter(({ kind, to }) => kind === 'link' && to === account);
    return links.findLast(({ text }) => text.startsWith(before))?.text ?? '/';
  }

  private async give(from: WireBrowser, to: WireBrowser, giving: Giving | null, clock: FixedClock) {
    if (giving === null) return;
    const { what, isCopy } = giving;
    const { session, remember, tokens } = this.stage.app.policy;
    const isToken = what === 'access' || what === 'refresh';
    if (!isCopy) to.state = thawed(to.state, 'all');
    if (isToken && tokens?.kept !== 'cookie') {
      to.state = given(this.stage, from.state, to.state, giving, clock) ?? to.state;
      return;
    }
    const rules = what === 'session' ? session.cookie : remember?.cookie;
    const names = isToken ? [TOKEN_COOKIES[what]] : rules === undefined ? [] : [rules.name, ...rules.others];
    for (const name of names) await to.take(name, from, isCopy);
    if (isToken) {
      to.state = {
        ...to.state,
        tab: { ...to.state.tab, tokens: to.state.tab.tokens ?? from.state.tab.tokens },
      };
    }
  }

  /** Requests that crossed on the way, in the order that the simulation found worst. */
  private async replay(browser: WireBrowser, { played }: StepResult): Promise<void> {
    const wire = (handle: string) => this.tokens.get(handle) ?? handle;
    for (const { request } of played.exchanges) {
      const form = new Map(request.form);
      const refresh = form.get('refresh_token');
      if (refresh !== undefined) form.set('refresh_token', wire(refresh));
      const authorization = request.authorization.replace(
        /^Bearer (.*)$/,
        (_, handle: string) => `Bearer ${wire(handle)}`,
      );
      const { body } = await browser.send({ ...request, form, authorization }, false);
      if (body.kind === 'tokens') this.learn({ access: body.accessToken, refresh: body.refreshToken });
    }
    const back = <T extends { readonly tokens: HeldTokens | null }>(tab: T): T =>
      tab.tokens === null
        ? tab
        : {
            ...tab,
            tokens: {
              ...tab.tokens,
              access: wire(tab.tokens.access),
              refresh: tab.tokens.refresh && wire(tab.tokens.refresh),
            },
          };
    browser.state = {
      ...played.browser,
      cookies: [],
      tab: back(played.browser.tab),
      behind: played.browser.behind.map(back),
    };
  }

  private learn(tokens: Pick<HeldTokens, 'access' | 'refresh'> | null): void {
    if (tokens === null) return;
    const [, payload = ''] = tokens.access.split('.');
    if (payload !== '') {
      const { jti } = JSON.parse(Buffer.from(payload, 'base64url').toString()) as { jti: string };
      this.tokens.set(jti.split('.')[0] ?? '', tokens.access);
    }
    if (tokens.refresh !== null) this.tokens.set(tokens.refresh.split('.')[0] ?? '', tokens.refresh);
  }

  private async held(browser: WireBrowser): Promise<string[]> {
    const { session, remember, tokens } = this.stage.app.policy;
    const held = browser.state.tab.tokens;
    const inCookies = tokens?.kept === 'cookie';
    const has = async (names: readonly string[], path = '/') =>
      names.length > 0 &&
      (await Promise.all(names.map((name) => browser.cookie(name, path)))).every((each) => each !== null);
    const namesOf = (rules: { name: string; others: readonly string[] } | undefined) =>
      rules === undefined ? [] : [rules.name, ...rules.others];
    const found = {
      session: await has(namesOf(session.cookie), session.cookie.path),
      access: inCookies ? await has([TOKEN_COOKIES.access]) : held !== null && held.access !== '',
      refresh: inCookies ? await has([TOKEN_COOKIES.refresh]) : held !== null && held.refresh !== null,
      remember: await has(namesOf(remember?.cookie), remember?.cookie.path),
    };
    return Object.entries(found).flatMap(([what, is]) => (is ? [what] : []));
  }
}

/** A form filled in with other fields. */
function filledWith(deed: Deed, fields: ReadonlyMap<string, string>): Deed {
  if (deed.deed !== 'fill-in') return deed;
  return { ...deed, fill: { ...deed.fill, fields: new Map([...deed.fill.fields, ...fields]) } };
}
