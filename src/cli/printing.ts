import type { Secrets } from '../core/internal.js';
import { inert } from '../render/style.js';

/** What the program itself writes beside text: colours, links to lines, and a line that is written anew. */
// eslint-disable-next-line no-control-regex -- they are what is looked for
const OWN = /(\r?\u001b\[[\d;]*[mK]|\u001b\]8;;[!-~]*\u001b\\|\n)/u;

/**
 * Has all that is printed pass here, whatever part of the program prints it: the secrets of the run are cut out, and in messages what
 * would steer a terminal is shown by its code points.
 */
export function guardPrinting(out: NodeJS.WriteStream, err: NodeJS.WriteStream, secrets: Secrets): void {
  through(out, (text) => secrets.cut(text));
  through(err, (text) => harmless(secrets.cut(text)));
}

function through(stream: NodeJS.WriteStream, change: (text: string) => string): void {
  const write = stream.write.bind(stream) as (chunk: unknown, ...more: unknown[]) => boolean;
  stream.write = (chunk: unknown, ...more: unknown[]) =>
    write(typeof chunk === 'string' ? change(chunk) : chunk, ...more);
}

/** A message as no terminal and no build system takes it for more than text. */
export function harmless(text: string): string {
  return text
    .split(OWN)
    .map((part, at) => (at % 2 === 1 ? part : inert(part)))
    .join('');
}
