import { existsSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { Command, Option } from 'commander';
import {
  hasErrors,
  inReadingOrder,
  problem,
  readLiveText,
  settled,
  type Diagnostic,
  type LiveConfig,
  type YamlText,
} from '../core/internal.js';
import { diagnosticsText } from '../render/diagnostics-text.js';
import { LIVE_FORMATS } from '../render/formats.js';
import { printable } from '../render/style.js';
import { appAddress } from './app-option.js';
import { policyOf, readText, readTexts, type Request } from './files.js';
import { isLoopback } from './loopback.js';
import { learnFirst } from './live-learn.js';
import { liveProgress } from './live-progress.js';
import {
  complain,
  giveOutIn,
  numberWithin,
  withFiles,
  withOutputOptions,
  type OutputOptions,
} from './output.js';
import { openProject, wantedWalks, type Usable } from './project.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

declare const CAVRIN_VERSION: string;

interface LiveOptions extends OutputOptions {
  readonly config?: string;
  readonly at?: string;
  readonly learn?: boolean;
  readonly login?: string;
  readonly account?: readonly string[];
  readonly only?: string;
  readonly parallel: number;
  readonly patience: number;
  readonly browser?: boolean;
  readonly http?: boolean;
  readonly oneByOne?: boolean;
  readonly allowHost?: string;
  readonly failOn: 'any' | 'opens';
  readonly verbose?: boolean;
}

/** `cavrin live`. */
export function liveCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('live')
    .summary('play the walks against a real, running app and name the differences')
    .description(
      'Plays the walks of a policy against the app that it describes, and tells for each cause where the app does something else. ' +
        'live.yaml, beside the policy, says where the app is and how it is started, logged in to and steered. It runs commands, so ' +
        'use only one whose author you trust.\n' +
        'Exit status: 0 the app does what the policy says, 1 it differs, 2 the input is wrong or the app is not to be had, 3 nothing could be played.',
    );
  withFiles(command)
    .option('--config <file>', 'what says how the app is to be had (default: live.yaml beside the policy)')
    .option('--at <address>', 'where the app is, in the place of what live.yaml says')
    .option('--learn', 'write a first live.yaml by looking at a running app, and play nothing')
    .option('--login <path>', 'with --learn: the address of the login page')
    .option(
      '--account <account...>',
      'with --learn: two accounts to look as, each as name:env:VARIABLE (default: two of the policy)',
    )
    .option('--only <text>', 'play only walks with this text in their name')
    .option('--parallel <number>', 'how many requests may be open at once', numberWithin(1, 100), 4)
    .option('--patience <seconds>', 'after how long an answer is given up', numberWithin(1, 600), 10)
    .option('--browser', 'play all walks in Chromium, not only those that need it')
    .option('--http', 'play all walks by plain requests, and leave unjudged what only a browser tells')
    .option('--one-by-one', 'give each walk the app to itself, as slow as that is')
    .option('--allow-host <host>', 'the host of the app, where it is not this machine')
    .addOption(
      new Option('--fail-on <what>', 'which differences give status 1: any, or only those that open more')
        .choices(['any', 'opens'])
        .default('any'),
    );
  return withOutputOptions(command, 'show only differences, and the count', LIVE_FORMATS)
    .option('--verbose', 'show every place at which a difference shows, and the walks that were not played')
    .action(async (policy: string | undefined, walks: string[], options: LiveOptions) => {
      const request = { folder: terminal.folder, policy, walks };
      done(
        options.learn === true
          ? await learnFirst(request, options, terminal)
          : await live(request, options, terminal),
      );
    });
}

async function live(request: Request, options: LiveOptions, terminal: Terminal): Promise<number> {
  const opened = await openAll(request, options, terminal.folder);
  if ('faults' in opened) return complain(opened.faults, LIVE_FORMATS, options, terminal);
  const { project, config, input, folder } = opened;
  if (project.notes.length > 0) {
    terminal.err.write(diagnosticsText(project.notes, lookOf(terminal, terminal.err, options.color)));
  }
  const wanted = wantedWalks(project.walks, options.only);
  if ('faults' in wanted) return complain(wanted.faults, LIVE_FORMATS, options, terminal);
  const { badSelectors, Interrupted, runLive, RunEnded } = await import('../live/index.js');
  const faults = badSelectors(config).map(({ selector, at }) =>
    problem('bad-selector', { selector }, input.placeOf(at)),
  );
  if (faults.length > 0) return complain(faults, LIVE_FORMATS, options, terminal);
  const { progress, end } = liveProgress(terminal, options);
  try {
    const result = await runLive(project, wanted.walks, config, {
      folder,
      env: terminal.env,
      secrets: terminal.secrets,
      preload: join(import.meta.dirname, 'moved-date.cjs'),
      parallel: options.parallel,
      patience: options.patience * 1000,
      driver: options.browser === true ? 'browser' : options.http === true ? 'http' : 'auto',
      oneByOne: options.oneByOne === true,
      progress,
      note: (text) => terminal.err.write(`${printable(text)}\n`),
    });
    end();
    const parted = settled(result.findings, config, options.only === undefined);
    const look = {
      ...lookOf(terminal, terminal.out, options.color),
      quiet: options.quiet === true,
      verbose: options.verbose === true,
    };
    const shown = {
      result,
      settled: parted,
      app: project.policy.app,
      at: config.at,
      policy: project.input,
      live: input,
      version: CAVRIN_VERSION,
    };
    giveOutIn(LIVE_FORMATS, shown, look, options, terminal);
    const failing = parted.open.filter((finding) => options.failOn === 'any' || finding.class === 'opens');
    // What plays nothing shows nothing.
    if (result.walks.every(({ steps }) => steps.length === 0)) return STATUS.unsettled;
    return failing.length === 0 ? STATUS.good : STATUS.found;
  } catch (error) {
    end();
    if (!(error instanceof RunEnded)) throw error;
    const output =
      error.output === ''
        ? []
        : ['It printed last:', ...error.output.split('\n').map((line) => `  ${printable(line)}`)];
    terminal.err.write(
      `${[`error: ${printable(error.message)}`, ...(error.hint === null ? [] : [`Hint: ${printable(error.hint)}`]), ...output].join('\n')}\n`,
    );
    return error instanceof Interrupted ? STATUS.unsettled : STATUS.wrong;
  }
}

interface Opened {
  readonly project: Usable;
  readonly config: LiveConfig;
  readonly input: YamlText;
  /** Where live.yaml lies. */
  readonly folder: string;
}

async function openAll(
  request: Request,
  options: LiveOptions,
  here: string,
): Promise<Opened | { readonly faults: readonly Diagnostic[] }> {
  const at = options.at === undefined ? null : appAddress(options.at, options.allowHost);
  const project = await openProject(readTexts(request));
  if ('faults' in project) return project;
  const policy = policyOf(request) ?? 'cavrin.yaml';
  const file = options.config ?? join(policy === '-' ? '.' : dirname(policy), 'live.yaml');
  if (options.config === undefined && !existsSync(resolve(here, file))) {
    return { faults: [problem('no-live', { file }, null)] };
  }
  const source = readText(file, here, options.config === undefined);
  if (!('text' in source)) return { faults: [source] };
  const { config, input, diagnostics } = readLiveText(source, project.policy, at);
  const faults = inReadingOrder(diagnostics);
  if (config === null || input === null || hasErrors(faults)) return { faults };
  const host = new URL(config.at).hostname.replace(/^\[|\]$/g, '');
  if (!isLoopback(host) && options.allowHost !== host) {
    return { faults: [problem('host-not-allowed', { host }, input.placeOf(['at']))] };
  }
  return { project, config, input, folder: resolve(here, dirname(file)) };
}
