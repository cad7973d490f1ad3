import { spawn } from 'node:child_process';
import { policyText } from '../support/policies';
import { PROGRAM, Workplace } from '../support/program';

interface Answer {
  readonly id?: unknown;
  readonly method?: string;
  readonly error?: { readonly code: number; readonly message: string };
  readonly params?: { readonly diagnostics: readonly { readonly code: string }[] };
}

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

function framed(text: string, more = ''): string {
  return `Content-Length: ${Buffer.byteLength(text)}\r\n${more}\r\n${text}`;
}
const message = (content: object) => framed(JSON.stringify({ jsonrpc: '2.0', ...content }));
const begin = (processId: number | null = null) =>
  message({ id: 'begin', method: 'initialize', params: { processId, rootUri: null, capabilities: {} } });
const AT = { textDocument: { uri: 'file:///none.yaml' }, position: { line: 0, character: 0 } };
const hover = (id: unknown, params: unknown = AT) => message({ id, method: 'textDocument/hover', params });
const note = (method: string, params: unknown) => message({ method: `textDocument/${method}`, params });
const opened = (uri: unknown, text: unknown) =>
  note('didOpen', { textDocument: { uri, languageId: 'yaml', version: 1, text } });

/** Everything that the server answers to some bytes, until an answer is the last, with its status once the bytes end. */
async function answersTo(bytes: string, isLast: (answer: Answer) => boolean) {
  const child = spawn(process.execPath, [PROGRAM, 'editor'], { cwd: place.folder });
  const ended = new Promise<number | null>((settle) => child.on('exit', settle));
  const answers: Answer[] = [];
  let out = '';
  await new Promise<void>((settle) => {
    child.stdout.on('data', (chunk: Buffer) => {
      out += chunk.toString('latin1');
      for (;;) {
        const [head = '', length = ''] = /^Content-Length: (\d+)\r\n\r\n/.exec(out) ?? [];
        const end = head.length + Number(length);
        if (head === '' || out.length < end) return;
        answers.push(JSON.parse(Buffer.from(out.slice(head.length, end), 'latin1').toString()) as Answer);
        out = out.slice(end);
        if (isLast(answers.at(-1) ?? {})) settle();
      }
    });
    child.on('exit', settle);
    child.stdin.write(bytes);
  });
  child.stdin.end();
  return { answers, status: await ended };
}

const toLast = ({ id }: Answer) => id === 'last';

test.each([
  ['a charset that nobody knows', framed('{}', 'Content-Type: a/b; charset=klingon\r\n'), null, -32700],
  ['a huge length', 'Content-Length: 99999999999\r\n\r\n{}', null, -32700],
  ['no length', 'Length: 1\r\n\r\n{}', null, -32700],
  ['no JSON', framed('{"jsonrpc":'), null, -32700],
  ['a batch', framed('[]'), null, -32600],
  ['an id that is none', hover({}), null, -32600],
  ['a second beginning', begin(), 'begin', -32600],
  ['parameters by position', hover(5, [1, 2]), 5, -32602],
  ['no parameters', message({ id: 5, method: 'textDocument/hover' }), 5, -32602],
  ['a place before the text', hover(5, { ...AT, position: { line: -1, character: 0 } }), 5, -32602],
  ['another method', message({ id: 5, method: '__proto__' }), 5, -32601],
])('%s is answered with the error of the protocol, and it goes on', async (_what, bytes, id, code) => {
  const { answers, status } = await answersTo(begin() + bytes + hover('last'), toLast);
  expect(answers.flatMap(({ error, id: of }) => (error === undefined ? [] : [[of, error.code]]))).toEqual([
    [id, code],
  ]);
  expect(answers.filter(toLast)).toEqual([{ jsonrpc: '2.0', id: 'last', result: null }]);
  expect(status).toBe(0);
});

test('before it begins and after it ends every request is refused, and no note is taken', async () => {
  const early = hover(1) + opened('file:///none.yaml', 'cavrin: 1') + begin();
  const late = message({ id: 2, method: 'shutdown' }) + hover('last');
  const { answers } = await answersTo(early + late, ({ id }) => id === 2);
  // What is refused is answered at once.
  expect(answers.map(({ id, error }) => [id, error?.code])).toEqual([
    [1, -32002],
    ['last', -32600],
    ['begin', undefined],
    [2, undefined],
  ]);
});

test('notes that make no sense are dropped, and addresses that name no file have no findings', async () => {
  const uri = 'file:///odd.yaml';
  const edits = [7, [{ text: 9 }], [{ range: { start: { line: 0, character: -1 } }, text: '' }]];
  const bytes = [
    begin(),
    opened(uri, 7),
    opened(uri, 'cavrin: 1'),
    ...edits.map((contentChanges) =>
      note('didChange', { textDocument: { uri, version: 2 }, contentChanges }),
    ),
    note('didChange', null),
    ...['file:///%zz', 'file://elsewhere/x', 'file:///%00', 'https://a.example/', ''].map((each) =>
      opened(each, 'cavrin: 1'),
    ),
    message({ id: 5, method: 'textDocument/hover', params: { ...AT, textDocument: { uri: 'file:///%zz' } } }),
    hover('last'),
  ];
  const { answers, status } = await answersTo(bytes.join(''), toLast);
  expect([answers.filter(({ error }) => error !== undefined), status]).toEqual([[], 0]);
});

test('it ends with its input while the editor that started it still runs', async () => {
  const { status } = await answersTo(begin(process.pid) + hover('last'), toLast);
  expect(status).toBe(0);
});

test('what was asked of a text that was changed since is told so, and a text beyond the limit is not read', async () => {
  const uri = `file://${place.folder}/big.yaml`;
  const pages = Array.from({ length: 20_000 }, (_, at) => `  /page-${at}: { for: [clerk] }\n`).join('');
  const text = `${policyText({ pages: null })}\npages:\n${pages}`;
  const typed = Array.from({ length: 20 }, (_, at) => {
    const range = { start: { line: 1, character: 5 }, end: { line: 1, character: 5 } };
    const contentChanges = [{ range, text: 'x' }];
    const change = note('didChange', { textDocument: { uri, version: 2 + at }, contentChanges });
    const params = { textDocument: { uri }, position: { line: 1, character: 6 } };
    return change + message({ id: at, method: 'textDocument/completion', params });
  });
  const { answers } = await answersTo(
    begin() +
      opened(uri, text) +
      typed.join('') +
      message({ id: 'last', method: 'textDocument/hover', params: AT }),
    ({ id }) => id === 19,
  );
  const changed = answers.filter(({ error }) => error?.code === -32801);
  expect(changed.length).toBeGreaterThan(10);
  expect(answers.find(({ id }) => id === 19)?.error).toBeUndefined();

  const found = await answersTo(
    begin() + opened(uri, `cavrin: 1\n# ${'x'.repeat(2 ** 21)}`),
    (each) => each.method === 'textDocument/publishDiagnostics',
  );
  expect(found.answers.at(-1)?.params?.diagnostics.map(({ code }) => code)).toEqual(['too-large']);
});
