import { spawn } from 'node:child_process';
import type { Fuzzer } from './fuzzer';
import { mutated } from './mutated';
import { exampleTexts } from './texts';

const AT = '"textDocument":{"uri":"file:///a/cavrin.yaml"},"position":{"line":3,"character":5}';
const REQUESTS = [
  'hover',
  'completion',
  'definition',
  'prepareRename',
  'documentSymbol',
  'codeAction',
  'formatting',
];
const LONGEST_MILLISECONDS = 20_000;

/** Messages to one language server, which has to answer what comes after them. */
export function editorFuzzer(examples: string, program: string): Fuzzer {
  const child = spawn(process.execPath, [program, 'editor'], { stdio: ['pipe', 'pipe', 'pipe'] });
  let status: number | null = null;
  let told = '';
  let waitsFor = '';
  let answered: () => void = () => undefined;
  child.stdout.on('data', (part: Buffer) => {
    told = (told + part.toString()).slice(-100_000);
    if (waitsFor !== '' && told.includes(waitsFor)) answered();
  });
  child.stdin.on('error', () => undefined);
  child.on('exit', (ended) => {
    status = ended ?? -1;
    answered();
  });
  const say = (text: string) =>
    child.stdin.write(`Content-Length: ${Buffer.byteLength(text)}\r\n\r\n${text}`);
  say(
    '{"jsonrpc":"2.0","id":"begin","method":"initialize","params":{"processId":null,"rootUri":null,"capabilities":{}}}',
  );
  const files = exampleTexts(examples).filter((text) => text.length < 3_000);
  let last = 0;
  return {
    what: 'messages to the editor',
    often: 1,
    make(random) {
      const method = random.of(REQUESTS);
      const text = JSON.stringify(mutated(random, files));
      const messages = [
        `{"jsonrpc":"2.0","method":"textDocument/didOpen","params":{"textDocument":{"uri":"file:///a/cavrin.yaml","languageId":"yaml","version":1,"text":${text}}}}`,
        `{"jsonrpc":"2.0","method":"textDocument/didChange","params":{"textDocument":{"uri":"file:///a/cavrin.yaml","version":2},"contentChanges":[{"text":${text}}]}}`,
        `{"jsonrpc":"2.0","id":7,"method":"textDocument/${method}","params":{${AT}}}`,
      ];
      return mutated(random, random.chance(0.5) ? messages : [random.of(messages)]);
    },
    async faultOf(message) {
      // Whoever asks it to end gets that.
      if (/shutdown|exit/.test(message)) return null;
      last += 1;
      waitsFor = `"id":"last ${last}"`;
      const isAnswered = new Promise<boolean>((settle) => {
        const timer = setTimeout(settle, LONGEST_MILLISECONDS, false);
        answered = () => {
          clearTimeout(timer);
          settle(true);
        };
      });
      say(message);
      say(`{"jsonrpc":"2.0","id":"last ${last}","method":"textDocument/hover","params":{${AT}}}`);
      const isThere = await isAnswered;
      if (status !== null) return `the language server ended with status ${status}`;
      return isThere ? null : 'the language server answers no more';
    },
    async end() {
      const ended = new Promise((settle) => child.on('exit', settle));
      child.stdin.end();
      await ended;
      return null;
    },
  };
}
