import { parseUrl } from '../http/address.js';
import type { Method } from '../http/messages.js';
import type { Diagnostic } from '../language/text/diagnostic.js';
import { reportIssues } from '../language/text/issues.js';
import type { Policy } from '../language/policy.js';
import { problem } from '../language/text/problems.js';
import type { Scope } from '../language/text/name-reader.js';
import { nearest } from '../language/text/suggestions.js';
import { TOKEN_COOKIES } from '../app/token-cookies.js';
import type { Path } from '../language/text/yaml-text.js';
import { keysOf } from '../vocabulary/tables.js';
import { commandWords } from './command-words.js';
import type {
  DeedName,
  Done,
  FormHints,
  Kept,
  LiveAccount,
  LiveConfig,
  LogoutWay,
  ShownWhen,
  Start,
  Text,
  Who,
} from './live-config.js';
import { liveSchema, type DoneText, type LiveText } from './live-schema.js';

/** `h1:Ledger`: what follows the last colon is a text where it is in quotes or starts with no small letter; else a pseudo-class. */
const WITH_TEXT = /^(.*[^:]):(?:"([^"]+)"|([^:a-z"][^:]*))$/;

/** How long an app may take to be up where nothing else is said, in seconds. */
const USUAL_START = 20;

/** Reads live.yaml for a policy; null where it cannot be used. */
export function readLive(scope: Scope, policy: Policy, at: string | null): LiveConfig | null {
  const { input, report } = scope;
  if (input.value === null) {
    report(
      problem(
        'empty-file',
        { expects: 'cavrin-live: 1 and at: with the address of the app' },
        input.placeOf([]),
      ),
    );
    return null;
  }
  const read = liveSchema().safeParse(input.value);
  if (!read.success) {
    reportIssues(read.error.issues, input, report);
    return null;
  }
  const faults: Diagnostic[] = [];
  const reader = new LiveReader(
    {
      input,
      report: (diagnostic) => {
        faults.push(diagnostic);
      },
    },
    policy,
  );
  const config = reader.read(at === null ? read.data : { ...read.data, at });
  faults.forEach(report);
  return faults.length === 0 ? config : null;
}

class LiveReader {
  constructor(
    private readonly scope: Scope,
    private readonly policy: Policy,
  ) {}

  read(text: LiveText): LiveConfig {
    const start = text.start === undefined ? null : this.start(text.start);
    const clock = text.clock ?? (start === null ? null : 'preload');
    if (clock === 'preload' && start === null) {
      this.fault(
        ['clock'],
        'preload moves the clock of an app that the run starts: say how, with start: { run: … }',
      );
    }
    const reset = text.reset ?? (start === null ? 'none' : 'restart');
    if (reset === 'restart' && start === null) {
      this.fault(
        ['reset'],
        'the run can start the app again only where it started it: say how, with start: { run: … }',
      );
    }
    return {
      at: this.address(text.at),
      start,
      isForwarding: text.proxy === undefined ? this.policy.proxy?.trusted === true : text.proxy === 'trusted',
      accounts: this.accounts(text.accounts ?? {}),
      forms: {
        login: hintsOf(text.login),
        'sign-up': hintsOf(text['sign-up']),
        code: hintsOf(text.code),
      },
      who: text.who === undefined ? null : this.who(text.who),
      menu: text.menu ?? null,
      shownWhen: this.shownWhen(text.pages ?? {}),
      parts: this.parts(text.pages ?? {}),
      credentials: this.credentials(text.credentials ?? {}),
      logout: text.logout === undefined ? null : logoutOf(text.logout),
      clock: clock === null || typeof clock === 'string' ? clock : this.done(clock, ['clock']),
      deeds: this.deeds(text.deeds ?? {}),
      reset: typeof reset === 'string' ? reset : this.done(reset, ['reset']),
      accepted: (text.accepted ?? []).map((each, index) => ({ ...each, at: ['accepted', index] })),
    };
  }

  private fault(at: Path, problemText: string): void {
    this.scope.report(problem('bad-value', { problem: problemText }, this.scope.input.placeOf(at)));
  }

  private address(text: string): string {
    const url = parseUrl(text);
    if (url === null || (url.protocol !== 'http:' && url.protocol !== 'https:')) {
      this.fault(
        ['at'],
        'the address of an app starts with http:// or https://, as in http://127.0.0.1:3000',
      );
      return text;
    }
    if (url.username !== '' || url.password !== '' || url.search !== '' || url.hash !== '') {
      this.fault(
        ['at'],
        'the address of an app is its origin and base path, without a user, a query or a fragment',
      );
    }
    return url.origin + url.pathname.replace(/\/+$/, '');
  }

  private start(text: NonNullable<LiveText['start']>): Start {
    return {
      at: ['start'],
      command: this.command(text.run, ['start', 'run']),
      ready: requestOf(text.ready ?? 'GET /'),
      within: text.within ?? USUAL_START,
      env: textsOf(text.env),
    };
  }

  private command(written: string | readonly string[], at: Path): readonly string[] {
    const command = typeof written === 'string' ? commandWords(written) : written;
    if (command === null) this.fault(at, 'a quote in this command is not closed');
    else if (command.length === 0) this.fault(at, 'a command has at least one word');
    return command ?? [];
  }

  private done(text: DoneText, at: Path): Done {
    if ('run' in text) return { by: 'run', command: this.command(text.run, [...at, 'run']) };
    if (text.form !== undefined && text.json !== undefined) {
      this.fault([...at, 'json'], 'a request carries a form or JSON, not both');
    }
    return {
      by: 'request',
      ...requestOf(text.request),
      form: text.form === undefined ? null : textsOf(text.form),
      json: text.json === undefined ? null : textsOf(text.json),
      headers: textsOf(text.headers),
    };
  }

  private deeds(text: NonNullable<LiveText['deeds']>): LiveConfig['deeds'] {
    const deeds: Partial<Record<DeedName, Done>> = {};
    for (const name of keysOf(text)) {
      const how = text[name];
      if (how !== undefined) deeds[name] = this.done(how, ['deeds', name]);
    }
    return deeds;
  }

  private accounts(text: NonNullable<LiveText['accounts']>): Map<string, LiveAccount> {
    const accounts = new Map<string, LiveAccount>();
    for (const [name, { name: login, password, key }] of Object.entries(text)) {
      // People who sign up in a walk are not in the policy, and may be called something else too.
      if (!this.policy.accounts.has(name) && password !== undefined) this.unknownAccount(name, ['accounts']);
      if (key !== undefined && this.policy.accounts.get(name)?.key !== true) {
        const says = `${name} is no machine in the policy: only accounts with key: true have one`;
        const place = this.scope.input.placeOf(['accounts', name, 'key']);
        this.scope.report(problem('bad-value', { problem: says }, place));
      }
      accounts.set(name, {
        at: ['accounts', name],
        name: login ?? null,
        passwordIn: password === undefined ? null : variableIn(password),
        keyIn: key === undefined ? null : variableIn(key),
      });
    }
    return accounts;
  }

  private unknownAccount(name: string, at: Path): void {
    const near = nearest(name, this.policy.accounts.keys());
    this.scope.report(problem('unknown-account', { name, near }, this.scope.input.placeOfKey(at, name)));
  }

  private who(text: NonNullable<LiveText['who']>): Who {
    const said = Object.entries(text.says ?? {});
    for (const [name] of said) {
      if (name !== 'guest' && !this.policy.accounts.has(name)) this.unknownAccount(name, ['who', 'says']);
    }
    const accounts = new Map([
      ...[...this.policy.accounts.keys()].map((name): [string, string] => [name, name]),
      ['guest', 'guest'],
      ...said.map(([name, words]): [string, string] => [words.trim(), name]),
    ]);
    if ('element' in text) {
      return {
        by: 'element',
        accounts,
        selector: text.element,
        attribute: text.attribute ?? null,
        signedInWhere: text['signed-in-where'] ?? null,
      };
    }
    return 'header' in text
      ? { by: 'header', accounts, header: text.header.toLowerCase() }
      : { by: 'request', accounts, ...requestOf(text.request), pointer: text.at };
  }

  private shownWhen(text: NonNullable<LiveText['pages']>): Map<string, ShownWhen> {
    const shown = new Map<string, ShownWhen>();
    const known = this.policy.pages.map(({ pattern }) => pattern.text);
    for (const [path, { 'shown-when': written }] of Object.entries(text)) {
      if (!known.includes(path)) {
        const place = this.scope.input.placeOfKey(['pages'], path);
        this.scope.report(problem('unknown-page-path', { name: path, near: nearest(path, known) }, place));
      }
      if (written !== undefined) shown.set(path, signOf(written));
    }
    return shown;
  }

  private parts(text: NonNullable<LiveText['pages']>): Map<string, ReadonlyMap<string, ShownWhen>> {
    const all = new Map<string, ReadonlyMap<string, ShownWhen>>();
    for (const [path, { parts = {} }] of Object.entries(text)) {
      const known = this.policy.pages.find(({ pattern }) => pattern.text === path)?.parts ?? [];
      const names = known.map(({ name }) => name);
      for (const name of Object.keys(parts)) {
        if (names.includes(name)) continue;
        const place = this.scope.input.placeOfKey(['pages', path, 'parts'], name);
        this.scope.report(problem('unknown-part', { name, near: nearest(name, names) }, place));
      }
      all.set(path, new Map(Object.entries(parts).map(([name, written]) => [name, signOf(written)])));
    }
    return all;
  }

  private credentials(text: NonNullable<LiveText['credentials']>): LiveConfig['credentials'] {
    const { session, remember, tokens } = this.policy;
    const byCookies = (written: readonly string[] | undefined, usual: readonly string[]): Kept => ({
      cookies: written ?? usual,
      storage: null,
      key: null,
      pointer: '',
      answer: null,
      sends: 'form',
      field: '',
    });
    const token = (what: 'access' | 'refresh'): Kept => {
      const own = text[what];
      const isCookie = own?.cookies !== undefined || (own === undefined && tokens?.kept === 'cookie');
      return {
        cookies: isCookie ? (own?.cookies ?? [TOKEN_COOKIES[what]]) : [],
        storage:
          own?.key === undefined ? null : (own.storage ?? (tokens?.kept === 'browser' ? 'local' : 'session')),
        key: own?.key ?? null,
        pointer: own?.at ?? '',
        answer: own?.answer ?? null,
        sends: own?.sends ?? 'form',
        field: own?.field ?? 'refresh_token',
      };
    };
    return {
      session: byCookies(text.session, [session.cookie.name, ...session.cookie.others]),
      remember: byCookies(
        text.remember,
        remember === null ? [] : [remember.cookie.name, ...remember.cookie.others],
      ),
      access: token('access'),
      refresh: token('refresh'),
    };
  }
}

function hintsOf(text: LiveText['login']): FormHints {
  const { form, sends, name, password, remember, role, code } = text ?? {};
  return {
    form: form ?? null,
    sends: sends ?? null,
    name: name ?? null,
    password: password ?? null,
    remember: remember ?? null,
    role: role ?? null,
    code: code ?? null,
  };
}

function logoutOf(text: NonNullable<LiveText['logout']>): LogoutWay {
  if ('form' in text) return { by: 'form', selector: text.form };
  return 'link' in text ? { by: 'link', selector: text.link } : { by: 'request', ...requestOf(text.request) };
}

function requestOf(line: string): { readonly method: Method; readonly path: string } {
  const [method = 'GET', path = '/'] = line.split(' ', 2);
  // The schema lets only methods through.
  return { method: method as Method, path };
}

function textsOf(texts: Readonly<Record<string, string>> = {}): Map<string, Text> {
  return new Map(Object.entries(texts));
}

function variableIn(text: string): string {
  return text.slice('env:'.length);
}

/** A selector, perhaps with a text that it must have behind a colon. */
function signOf(written: string): ShownWhen {
  const [, selector = written, quoted, bare] = WITH_TEXT.exec(written) ?? [];
  return { selector, text: quoted ?? bare ?? null };
}
