import { initialState, type AppState } from '../../src/core/app/app';
import type { Answer } from '../../src/core/app/answer';
import { respondTo } from '../../src/core/app/respond-to';
import { FixedClock } from '../../src/core/time/clock';
import type { HttpRequest } from '../../src/core/http/messages';
import { policyText, project } from './policies';

/** An app of the small policy, asked request by request. */
export class Asked {
  state: AppState;
  private readonly stage;

  constructor(parts: Parameters<typeof policyText>[0] = {}) {
    this.stage = project(policyText(parts)).stage;
    this.state = initialState(this.stage.app.policy);
  }

  ask(line: string, more: Partial<HttpRequest> = {}, seconds = 0): Answer {
    const [method, target = '/'] = line.split(' ');
    const [path = '/', query] = target.split('?');
    const request: HttpRequest = {
      method: method as HttpRequest['method'],
      origin: 'https://app.example',
      path,
      query: query === undefined ? '' : `?${query}`,
      cookie: '',
      authorization: '',
      apiKey: '',
      referer: '',
      client: '203.0.113.7',
      crossOrigin: false,
      accept: 'text/html',
      form: new Map(),
      ...more,
    };
    const answer = respondTo(this.stage.app, this.state, request, new FixedClock(seconds));
    this.state = answer.state;
    return answer;
  }

  /** Logs in and gives the Cookie header that comes of it. */
  logIn(account: string, password: string, seconds = 0, fields: Record<string, string> = {}): string {
    const { response } = this.ask(
      'POST /in',
      { form: new Map(Object.entries({ account, password, ...fields })) },
      seconds,
    );
    return response.setCookie[0]?.split(';', 1)[0] ?? '';
  }
}

export const short = ({ response, explanation }: Answer) =>
  `${response.status} ${response.location ?? '-'} ${explanation.reason}`;
