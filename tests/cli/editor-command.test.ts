import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import {
  createProtocolConnection,
  StreamMessageReader,
  StreamMessageWriter,
  type CompletionItem,
  type Diagnostic,
  type Hover,
  type Location,
  type ProtocolConnection,
  type PublishDiagnosticsParams,
} from 'vscode-languageserver-protocol/node';
import { policyText } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

/** An editor with a language server of its own, over pipes. */
class Editor {
  readonly place = new Workplace();
  private readonly server: ChildProcess;
  private readonly connection: ProtocolConnection;
  private readonly told = new Map<string, Diagnostic[]>();
  private waiting: (() => void)[] = [];

  constructor() {
    this.server = spawn(process.execPath, [PROGRAM, 'editor', '--stdio'], { cwd: this.place.folder });
    const { stdin, stdout } = this.server;
    if (stdin === null || stdout === null) throw new Error('no pipes');
    this.connection = createProtocolConnection(
      new StreamMessageReader(stdout),
      new StreamMessageWriter(stdin),
    );
    this.connection.onNotification('textDocument/publishDiagnostics', (params: PublishDiagnosticsParams) => {
      this.told.set(params.uri, params.diagnostics);
      for (const go of this.waiting.splice(0)) go();
    });
    this.connection.listen();
  }

  async begin(): Promise<{ capabilities: object }> {
    const result = await this.connection.sendRequest('initialize', {
      processId: null,
      rootUri: null,
      capabilities: {},
    });
    await this.connection.sendNotification('initialized', {});
    return result as { capabilities: object };
  }

  uri(name: string): string {
    return pathToFileURL(join(this.place.folder, name)).href;
  }

  async open(name: string, text: string): Promise<void> {
    const textDocument = { uri: this.uri(name), languageId: 'yaml', version: 1, text };
    await this.connection.sendNotification('textDocument/didOpen', { textDocument });
  }

  async type(name: string, text: string): Promise<void> {
    const textDocument = { uri: this.uri(name), version: 2 };
    await this.connection.sendNotification('textDocument/didChange', {
      textDocument,
      contentChanges: [{ text }],
    });
  }

  /** What is found in a file, once that is as it should be. */
  async found(name: string, isAsWanted: (codes: unknown[]) => boolean): Promise<Diagnostic[]> {
    for (;;) {
      const now = this.told.get(this.uri(name));
      if (now !== undefined && isAsWanted(now.map(({ code }) => code))) return now;
      await new Promise<void>((settle) => {
        this.waiting.push(settle);
      });
    }
  }

  /** Asks something of the place where a text first has `before|after`. */
  async ask<Result>(method: string, name: string, text: string, at: string): Promise<Result> {
    const [before = '', after = ''] = at.split('|');
    const offset = text.indexOf(before + after) + before.length;
    if (offset < before.length) throw new Error(`${at} is not in the text`);
    const lines = text.slice(0, offset).split('\n');
    const position = { line: lines.length - 1, character: lines.at(-1)?.length ?? 0 };
    return this.connection.sendRequest(method, { textDocument: { uri: this.uri(name) }, position });
  }

  async end(): Promise<number | null> {
    await this.connection.sendRequest('shutdown');
    const ended = new Promise<number | null>((settle) => this.server.on('exit', settle));
    await this.connection.sendNotification('exit');
    const status = await ended;
    this.connection.dispose();
    this.place.remove();
    return status;
  }
}

const TEXT = policyText();
const WALKS =
  'walks:\n  - name: Ann\n    steps:\n      - { login: ann, lands: /desk }\n      - { visit: /safe, why: role }\n';

let editor: Editor;
beforeEach(async () => {
  editor = new Editor();
  editor.place.put('cavrin.yaml', TEXT);
  await editor.begin();
});
afterEach(async () => {
  expect(await editor.end()).toBe(0);
});

test("check's findings come as one types, and go when they are mended", async () => {
  await editor.open('cavrin.yaml', TEXT);
  await editor.found('cavrin.yaml', (codes) => codes.length === 0);
  await editor.type('cavrin.yaml', TEXT.replace('POST /out }', 'POST /out, ends: [] }'));
  const [finding] = await editor.found('cavrin.yaml', (codes) => codes.includes('logout-ends-too-little'));
  expect(finding).toMatchObject({ source: 'cavrin', severity: 1, range: { start: { line: 9 } } });
  await editor.type('cavrin.yaml', TEXT.replace('for: [clerk]', 'for: [clerc]'));
  const wrong = await editor.found('cavrin.yaml', (codes) => codes.includes('unknown-role'));
  expect(wrong[0]?.message).toContain('did you mean clerk?');
  await editor.type('cavrin.yaml', 'cavrin: 1\napp: [');
  await editor.found('cavrin.yaml', (codes) => codes.includes('yaml-syntax'));
  await editor.type('cavrin.yaml', TEXT);
  await editor.found('cavrin.yaml', (codes) => codes.length === 0);
});

test('walks are read with the policy beside them, as it is being written', async () => {
  await editor.open('walks.yaml', WALKS.replace('login: ann', 'login: anne'));
  const [unknown] = await editor.found('walks.yaml', (codes) => codes.length > 0);
  expect(unknown?.message).toContain('anne');
  await editor.open('cavrin.yaml', TEXT.replace('ann: {', 'anne: {'));
  await editor.type('walks.yaml', WALKS.replace('login: ann', 'login: anne'));
  await editor.found('walks.yaml', (codes) => codes.length === 0);
});

test('a page tells who gets in and why, a key what is so without it', async () => {
  await editor.open('cavrin.yaml', TEXT);
  const hover = async (at: string) => {
    const found = await editor.ask<Hover | null>('textDocument/hover', 'cavrin.yaml', TEXT, at);
    return (found?.contents as { value: string } | undefined)?.value ?? '';
  };
  const desk = await hover('/de|sk: {');
  expect(desk).toContain('GET /desk is for clerk (line 6)');
  expect(desk).toContain('- **guest**: /in (guest); to get in: log in, and hold clerk');
  expect(await hover('absol|ute')).toContain(
    'session.absolute: 8h. Left out: without limit, which loosens it',
  );
  expect(await hover('ses|sion: {')).toMatch(/session\.idle: 30m\. Left out: without limit/);
  expect(await hover('for: [cl|erk]')).toContain('the role clerk');
  expect(await hover('app: T|est')).toBe('');
});

test('keys, words, roles, pages, accounts and reasons are completed', async () => {
  await editor.open('cavrin.yaml', TEXT);
  await editor.open('walks.yaml', WALKS);
  const labels = async (name: string, text: string, at: string) => {
    await editor.type(name, text);
    const found = await editor.ask<CompletionItem[]>('textDocument/completion', name, text, at);
    return found.map(({ label }) => label);
  };
  expect(await labels('cavrin.yaml', TEXT.replace('for: [clerk]', 'for: [cl]'), 'for: [cl|]')).toEqual(
    expect.arrayContaining(['clerk', 'chief']),
  );
  expect(await labels('cavrin.yaml', TEXT.replace('to: /safe', 'to: /s'), 'to: /s|')).toContain('/safe');
  expect(
    await labels('cavrin.yaml', TEXT.replace('idle: 30m,', 'renews: ne, idle: 30m,'), 'renews: ne|'),
  ).toEqual(expect.arrayContaining(['never', 'each-request']));
  expect(await labels('cavrin.yaml', TEXT.replace('{ idle: 30m,', '{ id'), '{ id|')).toContain('absolute');
  expect(await labels('cavrin.yaml', `${TEXT}\nrem`, '\nrem|')).toContain('remember');
  expect(await labels('walks.yaml', WALKS.replace('login: ann', 'login: a'), 'login: a|')).toEqual(
    expect.arrayContaining(['ann', 'bo', 'cy']),
  );
  expect(await labels('walks.yaml', WALKS.replace('why: role', 'why: r'), 'why: r|')).toEqual(
    expect.arrayContaining(['role', 'idle-expired']),
  );
});

test('names lead to where they are defined', async () => {
  await editor.open('cavrin.yaml', TEXT);
  await editor.open('walks.yaml', WALKS);
  const line = async (name: string, text: string, at: string) => {
    const found = await editor.ask<Location | null>('textDocument/definition', name, text, at);
    return found === null ? null : [found.uri === editor.uri('cavrin.yaml'), found.range.start.line];
  };
  expect(await line('cavrin.yaml', TEXT, 'for: [cl|erk]')).toEqual([true, 3]);
  expect(await line('cavrin.yaml', TEXT, 'to: /sa|fe')).toEqual([true, 5]);
  expect(await line('walks.yaml', WALKS, 'login: an|n')).toEqual([true, 4]);
  expect(await line('walks.yaml', WALKS, 'visit: /sa|fe')).toEqual([true, 5]);
  expect(await line('walks.yaml', WALKS, 'why: ro|le')).toBeNull();
});

test('what nobody would write ends nothing: nesting without end, names of objects, another file', async () => {
  for (const text of ['['.repeat(100_000), '{ __proto__: { x: 1 } }', '? [a]\n: b\ncavrin: 1', '']) {
    await editor.open('odd.yaml', text);
    const ask = async (method: string) => editor.ask<unknown>(method, 'odd.yaml', text, '|');
    expect(await ask('textDocument/hover')).toBeNull();
    expect(await ask('textDocument/definition')).toBeNull();
    expect(await ask('textDocument/completion')).toBeInstanceOf(Array);
  }
  await editor.open('cavrin.yaml', TEXT);
  await editor.found('cavrin.yaml', (codes) => codes.length === 0);
});
