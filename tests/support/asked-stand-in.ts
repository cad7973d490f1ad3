import { standInOf } from './over-the-wire';
import { policyText, project } from './policies';
import { sendOver, type WireResponse } from './wire-browser';
import type { StandIn } from '../../src/stand-in/server';

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /api/a: { for: clerk, kind: api } }';
const TOKENS =
  'tokens: { access: { life: 5m, leeway: 5s }, refresh: { life: 1h }, submit: POST /oauth/token, revoke: POST /oauth/revoke }';
const LOGIN =
  'login: { page: /in, submit: POST /in, return: {}, attempts: { most: 5, within: 5m, pause: 5m }';

export type Headers = Record<string, string>;
export const FORM = { 'content-type': 'application/x-www-form-urlencoded' };

/** The small policy behind a real server, and what one can ask of it. */
export class Asked {
  private constructor(readonly standIn: StandIn) {}

  static async start(
    parts: Parameters<typeof policyText>[0] = {},
    clock: 'virtual' | 'real' = 'virtual',
  ): Promise<Asked> {
    const { policy } = project(policyText({ pages: PAGES, ...parts }));
    if (policy === null) throw new Error('no policy');
    return new Asked(await standInOf(policy, clock));
  }

  /** One whose logins hand out tokens beside the session. */
  static withTokens(parts: Parameters<typeof policyText>[0] = {}): Promise<Asked> {
    return Asked.start({ login: `${LOGIN}, by: both }`, more: TOKENS, ...parts });
  }

  ask(method: string, target: string, headers: Headers = {}, body = ''): Promise<WireResponse> {
    const { address } = this.standIn;
    return sendOver(address, method, target, { host: new URL(address).host, ...headers }, body);
  }

  post(target: string, fields: Headers, headers: Headers = {}): Promise<WireResponse> {
    return this.ask('POST', target, { ...FORM, ...headers }, new URLSearchParams(fields).toString());
  }

  logIn(): Promise<WireResponse> {
    return this.post('/in', { account: 'ann', password: 'a-1' }, { accept: 'application/json' });
  }

  async json(target: string): Promise<unknown> {
    return JSON.parse((await this.ask('GET', target)).body) as unknown;
  }
}

/** The cookies of a response, as a browser sends them back. */
export function cookies({ headers }: WireResponse): string {
  return [headers['set-cookie'] ?? []]
    .flat()
    .map((header) => header.split(';')[0])
    .join('; ');
}
