import { dirname, relative, resolve } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { Command } from 'commander';
import { sourceOf, type Source } from '../core/internal.js';
import { readTexts } from './files.js';
import { STATUS } from './status.js';
import type { Terminal } from './terminal.js';

declare const CAVRIN_VERSION: string;

/** `cavrin editor`. */
export function editorCommand(terminal: Terminal, done: (status: number) => void): Command {
  return new Command('editor')
    .summary('help an editor with policies and walks, as a language server')
    .description(
      'A language server over standard input and output, which an editor starts for YAML files: what check finds while one ' +
        'types, who gets in at a page and what a key is without being written, completion of keys, roles, accounts, pages and ' +
        'reasons, and where a name is defined.',
    )
    .option('--stdio', 'speak over standard input and output, as it does anyway; editors add this')
    .action(async () => {
      const { serveEditor } = await import('../editor/index.js');
      await serveEditor({
        input: process.stdin,
        output: terminal.out,
        version: CAVRIN_VERSION,
        fileOf,
        uriOf: (file) => pathToFileURL(file).href,
        textsFor,
      });
      done(STATUS.good);
      // The protocol's library goes on asking whether the editor is still there.
      setImmediate(() => process.exit());
    });
}

/** The file of this machine that a URI names; null for any other. */
function fileOf(uri: string): string | null {
  try {
    return uri.startsWith('file:') ? fileURLToPath(uri) : null;
  } catch {
    return null;
  }
}

/** The policy that a file is, or is beside, with the walks that lie with it. */
function textsFor(file: string, text: string): { policy: Source | null; walks: readonly Source[] } {
  const folder = dirname(file);
  const policy = /^cavrin:/m.test(text) ? relative(folder, file) : undefined;
  const texts = readTexts({ folder, policy, walks: [] });
  const whole = ({ file: name, text: content }: Source) => sourceOf(resolve(folder, name), content);
  // What is not saved yet is on no disk.
  const edited = sourceOf(file, text);
  const walks = texts.walks.map(whole);
  if (policy !== undefined) return { policy: texts.policy === null ? edited : whole(texts.policy), walks };
  return {
    policy: texts.policy && whole(texts.policy),
    walks: walks.some(({ file: name }) => name === file) ? walks : [...walks, edited],
  };
}
