import type { AppAddress } from '../app-address.js';
import { filledIn, slotsIn } from '../form-filling.js';
import { HtmlPage, type PageForm } from '../html-page.js';
import { NO_HINTS } from '../learn/by-requests.js';
import { logoutOn } from '../learn/looked-at.js';
import type { Looker } from '../learn/learnt.js';
import { Visitor, type Arrival, type Exchanged } from '../learn/visitor.js';
import { NoAnswer, type Transport } from '../transport.js';
import { LONGEST_HTML, NotShown, tooLong, type Rounder, type Shown } from './round.js';

/** Somebody who looks round by plain requests. */
export class RequestRounder implements Rounder {
  private readonly exchanged: Exchanged[] = [];
  private readonly visitor: Visitor;
  private last: Arrival | null = null;

  constructor(
    private readonly address: AppAddress,
    private readonly transport: Transport,
    isProxied: boolean,
  ) {
    this.visitor = new Visitor(address, transport, isProxied, (exchange) => this.exchanged.push(exchange));
  }

  async open(target: string): Promise<Shown> {
    return this.shown(await this.asked('GET', target));
  }

  async signIn(target: string, looker: Looker): Promise<Shown | null> {
    const page = await this.asked('GET', target);
    const form = new HtmlPage(page.answer.body).forms().find(isOfPassword);
    if (form === undefined) return null;
    const answers = {
      name: looker.name,
      password: looker.password,
      remember: false,
      role: null,
      code: null,
      old: null,
    };
    return this.shown(await this.send(form, page.target, filledIn(form, slotsIn(form, NO_HINTS), answers)));
  }

  async signOut(): Promise<boolean> {
    const { last } = this;
    const found = last === null ? null : logoutOn(last.answer.body);
    if (last === null || found === null) return false;
    const page = new HtmlPage(last.answer.body);
    if (found.by === 'link') {
      const link = page.link(found.selector);
      if (link === null) return false;
      await this.asked('GET', this.visitor.targetOf(link, last.target) ?? '/');
      return true;
    }
    const form = page.form(found.selector);
    if (form === null) return false;
    await this.send(form, last.target, form.fields);
    return true;
  }

  end(): Promise<string> {
    return Promise.resolve(JSON.stringify({ log: { version: '1.2', entries: this.exchanged.map(entryOf) } }));
  }

  private send(form: PageForm, from: string, fields: PageForm['fields']): Promise<Arrival> {
    const action = this.visitor.targetOf(form.action === '' ? from : form.action, from) ?? from;
    return this.asked(form.method, action, fields, from);
  }

  /** @throws NotShown where no answer comes, and the app is still there */
  private async asked(...request: Parameters<Visitor['ask']>): Promise<Arrival> {
    try {
      return await this.visitor.ask(...request);
    } catch (error) {
      if (!(error instanceof NoAnswer) || this.transport.isStopped) throw error;
      if (error.isGone && !(await this.transport.isThere())) throw error;
      throw new NotShown(error.reason);
    }
  }

  private shown(came: Arrival): Shown {
    const { length } = came.answer.body;
    if (length > LONGEST_HTML) throw new NotShown(tooLong(length));
    const isHtml = String(came.answer.headers['content-type'] ?? '').includes('html');
    const page = isHtml ? new HtmlPage(came.answer.body) : null;
    // What logs out stands on the pages of whoever is signed in.
    if (isHtml && came.answer.status < 300) this.last = came;
    const links = (page?.linksIn(null) ?? []).flatMap(
      (link) => this.visitor.targetOf(link, came.target) ?? [],
    );
    return { target: came.target, html: came.answer.body, links };
  }
}

export function isOfPassword({ method, inputs }: PageForm): boolean {
  return method === 'POST' && inputs.some(({ type }) => type === 'password');
}

/** An exchange as an entry of a recording (HAR 1.2). */
function entryOf({ at, method, url, headers, form, answer }: Exchanged): object {
  const listed = (all: Readonly<Record<string, string | readonly string[] | undefined>>) =>
    Object.entries(all).flatMap(([name, value]) =>
      [value ?? []].flat().map((each) => ({ name, value: each })),
    );
  return {
    startedDateTime: new Date(at).toISOString(),
    _resourceType: 'document',
    request: {
      method,
      url,
      headers: listed(headers),
      ...(form === null
        ? {}
        : {
            postData: {
              mimeType: 'application/x-www-form-urlencoded',
              text: '',
              params: form.map(([name, value]) => ({ name, value })),
            },
          }),
    },
    response: {
      status: answer.status,
      headers: listed(answer.headers),
      redirectURL: '',
      content: {
        mimeType: String(answer.headers['content-type'] ?? ''),
        text: answer.body.length > LONGEST_HTML ? '' : answer.body,
      },
    },
  };
}
