import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Command, InvalidArgumentError, Option } from 'commander';
import { positionOf, type Path, type YamlText } from '../core/internal.js';
import { requestLine } from '../render/request-line.js';
import { printable } from '../render/style.js';
import { readTexts } from './files.js';
import { isLoopback } from './loopback.js';
import { complain, numberWithin, withPolicy } from './output.js';
import { openProject } from './project.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

interface ServeOptions {
  readonly port: number;
  readonly host: string;
  readonly clock: 'virtual' | 'real';
  readonly color?: boolean;
  readonly quiet?: boolean;
}

/** `cavrin serve`. */
export function serveCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('serve')
    .summary('serve the policy as a running web app on this machine')
    .description(
      'Serves the app that the policy describes on loopback, to click through in a browser or to develop a front end ' +
        'against. Its address goes to standard output, a line for each request to standard error. The pages below /-/ move ' +
        'its clock, show sessions and tokens and change accounts. It runs until it is interrupted.\n' +
        'Exit status: 0 once interrupted, 2 the input or the call is wrong.',
    );
  return withPolicy(command)
    .option('--port <number>', 'the port to listen at; 0 takes a free one', numberWithin(0, 65_535), 0)
    .option('--host <address>', 'the network address to listen at', notEmpty, '127.0.0.1')
    .addOption(
      new Option('--clock <kind>', 'real: time passes; virtual: it stands still until it is moved')
        .choices(['virtual', 'real'])
        .default('real'),
    )
    .option('--color', 'colour the text even where it goes to no terminal')
    .option('--no-color', 'no colours')
    .option('--quiet', 'no line for each request')
    .action(async (policy: string | undefined, options: ServeOptions) => {
      done(await serve(policy, options, terminal));
    });
}

async function serve(file: string | undefined, options: ServeOptions, terminal: Terminal): Promise<number> {
  const request = { folder: terminal.folder, policy: file, walks: [] };
  const project = await openProject(readTexts(request, 'policy only'));
  if ('faults' in project) {
    return complain(project.faults, [], { ...options, format: 'text' }, terminal);
  }
  const { policy, input } = project;
  const { startStandIn } = await import('../stand-in/server.js');
  const look = lookOf(terminal, terminal.err, options.color);
  const lineOf = lineIn(input);
  const { host, port, clock } = options;
  try {
    const standIn = await startStandIn({
      policy,
      lineOf,
      clock,
      host,
      port,
      assets: readAssets(),
      log: (entry) => {
        if (options.quiet !== true) terminal.err.write(`${requestLine(entry, lineOf, look)}\n`);
      },
    });
    const { address, secret } = standIn;
    terminal.err.write(`${printable(policy.app)}, steered at ${address}/-/ or with the secret ${secret}\n`);
    for (const [name, at] of standIn.site.providers) {
      terminal.err.write(
        `identity provider ${printable(name)} at ${at}, for this app and for others on this machine\n`,
      );
    }
    if (!isLoopback(host)) {
      terminal.err.write(
        `warning: ${printable(host)} is no loopback address: whoever reaches this machine can use and read it\n`,
      );
    }
    terminal.out.write(`${address}\n`);
    await Promise.race(['SIGINT', 'SIGTERM', 'SIGHUP'].map((signal) => once(process, signal)));
    await standIn.stop();
    return STATUS.good;
  } catch (error) {
    const words = listenFault(error as NodeJS.ErrnoException, host, port);
    if (words === null) throw error;
    terminal.err.write(`error: ${words}\n`);
    return STATUS.wrong;
  }
}

function notEmpty(text: string): string {
  if (text.trim() === '') throw new InvalidArgumentError('name an address, or leave the option out');
  return text;
}

/** Why a server could not start listening; null where that was not the fault. */
function listenFault({ code }: NodeJS.ErrnoException, host: string, port: number): string | null {
  switch (code) {
    case 'EADDRINUSE':
      return `port ${port} is taken: name another with --port, or leave it out for a free one`;
    case 'EACCES':
      return `port ${port} is not for you to listen at: name one above 1023`;
    case 'EADDRNOTAVAIL':
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return `${printable(host)} is no address of this machine: leave --host out for 127.0.0.1`;
    default:
      return null;
  }
}

/** Finds the line of the policy at which a place of it stands. */
function lineIn(input: YamlText): (place: Path) => number {
  return (place) => positionOf(input.source, input.placeOf(place).start).line;
}

/** The files that pages are shown with lie beside the built program. */
function readAssets() {
  const read = (name: string) => readFileSync(join(import.meta.dirname, name), 'utf8');
  return { script: read('page.js'), style: read('style.css'), icon: read('icon.svg') };
}
