import { basename, join } from 'node:path';
import { Command } from 'commander';
import {
  compareWithPolicy,
  draftOf,
  guessesIn,
  hasErrors,
  lineText,
  loadProject,
  playWalk,
  positionOf,
  sourceOf,
  stageOf,
  type Draft,
  type Evidence,
  type Path,
  type Source,
} from '../core/internal.js';
import { draftText } from '../render/draft/policy-text.js';
import { AGAINST_FORMATS, DRAFT_FORMATS } from '../render/formats.js';
import { otherwiseIn, type ShownDraft } from '../render/draft/draft-text.js';
import { wordedWalksYaml } from '../render/walk-yaml.js';
import { isSame } from '../render/draft/against-text.js';
import { readTexts } from './files.js';
import { openProject } from './project.js';
import { namedHar, readSources, type NamedSources } from './draft-sources.js';
import { mustBeNew, writeNew } from './new-files.js';
import { complain, giveOutIn, numberWithin, withOutputOptions, type OutputOptions } from './output.js';
import { Refused, STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

interface DraftOptions extends OutputOptions, NamedSources {
  readonly into?: string;
}

/** `cavrin draft`. */
export function draftCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('draft')
    .summary('write a first policy from descriptions, recordings or a running app')
    .description(
      'Drafts a policy from what there is: a description of an api, what browsers recorded while people used the app, a sitemap, a list of ' +
        'routes, or a running app in which it looks round. Writes cavrin.yaml, and for recordings walks/recorded.yaml, which replays them; never over files that are there. What is ' +
        'guessed has a comment, which cavrin check tells of. Passwords and tokens are never written down.\n' +
        'Exit status: 0 drafted, 1 a recorded walk comes out otherwise on the draft, 2 a source is wrong.',
    )
    .argument('[folder]', 'where to write the files (default: here)')
    .option('--openapi <file...>', 'descriptions in OpenAPI 3.0 or 3.1, YAML or JSON')
    .option(
      '--har <person=file>',
      'a HAR recording, and whose: ines=ines.har, guest=guest.har; once for each',
      namedHar,
    )
    .option('--sitemap <file...>', 'sitemaps: pages that are for everyone')
    .option('--routes <file...>', 'lists of routes, one a line: GET /ledger')
    .option(
      '--at <address>',
      'a running app, to look round in: nothing is sent but the forms of login and logout',
    )
    .option('--login <path>', 'with --at: the address of the login page')
    .option('--account <account...>', 'with --at: accounts to look as, each as name:env:VARIABLE')
    .option('--allow-host <host>', 'with --at: the host of the app, where it is not this machine')
    .option(
      '--patience <seconds>',
      'with --at: after how long an answer is given up',
      numberWithin(1, 600),
      10,
    )
    .option(
      '--into <policy>',
      'write nothing; tell what the sources have and this policy lacks, and the reverse',
    );
  return withOutputOptions(command, 'show only what went wrong', DRAFT_FORMATS).action(
    async (folder: string | undefined, options: DraftOptions) => {
      done(await draft(folder ?? '.', options, terminal));
    },
  );
}

async function draft(folder: string, options: DraftOptions, terminal: Terminal): Promise<number> {
  const from = namesOf(options);
  if (from.length === 0) {
    throw new Refused('draft needs something to draft from: --openapi, --har, --sitemap, --routes or --at');
  }
  if (options.into === undefined) mustBeNew(filesIn(folder), terminal);
  const evidence = await readSources(options, terminal);
  if ('faults' in evidence) return complain(evidence.faults, DRAFT_FORMATS, options, terminal);
  if (options.into !== undefined) return compare(evidence, options.into, options, terminal);
  const shown = await drafted(evidence, from, filesIn(folder));
  writeNew(shown.files, terminal);
  const look = { ...lookOf(terminal, terminal.out, options.color), quiet: options.quiet === true };
  giveOutIn(DRAFT_FORMATS, shown, look, options, terminal);
  return shown.faults.length > 0 || otherwiseIn(shown.results).length > 0 ? STATUS.found : STATUS.good;
}

/** The files that a draft may write into a folder. */
function filesIn(folder: string): readonly [policy: string, walks: string] {
  return [join(folder, 'cavrin.yaml'), join(folder, 'walks', 'recorded.yaml')];
}

function namesOf({ openapi = [], har = [], sitemap = [], routes = [], at }: NamedSources): string[] {
  const files = [...openapi, ...har.map(({ file }) => file), ...sitemap, ...routes].map((file) =>
    basename(file),
  );
  return at === undefined ? files : [...files, at];
}

/** The draft as texts, read back, with its walks played. */
async function drafted(
  evidence: Evidence,
  from: readonly string[],
  [file, walksFile]: ReturnType<typeof filesIn>,
): Promise<ShownDraft> {
  const draft: Draft = draftOf(evidence);
  const policy = sourceOf(file, draftText(draft, from));
  const walks = draft.walks.length === 0 ? null : sourceOf(walksFile, walksText(draft));
  const project = await loadProject(policy, walks === null ? [] : [walks]);
  const stage = project.policy === null ? null : stageOf(project.policy);
  return {
    files: [policy, ...(walks === null ? [] : [walks])].map((each) => ({ name: each.file, text: each.text })),
    pages: project.policy?.pages.length ?? 0,
    accounts: project.policy?.accounts.size ?? 0,
    faults: project.diagnostics,
    guesses: guessesIn({ source: policy }),
    notes: draft.notes,
    results: stage === null ? [] : project.walks.map((walk) => playWalk(stage, walk)),
  };
}

/** Holds the sources against a policy that is there. */
async function compare(
  evidence: Evidence,
  file: string,
  options: DraftOptions,
  terminal: Terminal,
): Promise<number> {
  const project = await openProject(
    readTexts({ folder: terminal.folder, policy: file, walks: [] }, 'policy only'),
  );
  if ('faults' in project) return complain(project.faults, AGAINST_FORMATS, options, terminal);
  const draft = draftOf(evidence);
  const source = sourceOf('the draft', draftText(draft, []));
  const own = await loadProject(source, []);
  if (own.policy === null || own.input === null) {
    return complain(own.diagnostics, AGAINST_FORMATS, options, terminal);
  }
  const { input } = own;
  const lineOf = (start: number) => positionOf(source, start).line;
  const guessed = new Set(guessesIn(input).map(({ place }) => lineOf(place.start)));
  const isGuessed = (at: Path) => {
    const line = lineOf(input.placeOf(at).start);
    // A comment too long for its line stands above it.
    return guessed.has(line) || (guessed.has(line - 1) && isCommentLine(source, line - 1));
  };
  const walks = await loadProject(project.input.source, [sourceOf('recorded.yaml', walksText(draft))]);
  const isPlayable = walks.policy !== null && !hasErrors(walks.diagnostics);
  const recorded = isPlayable ? walks.walks.slice(project.walks.length) : [];
  const stage = stageOf(project.policy);
  const [fault] = walks.diagnostics;
  const shown = {
    app: project.policy.app,
    input: project.input,
    compared: compareWithPolicy(own.policy, project.policy, input, isGuessed),
    results: recorded.map((walk) => playWalk(stage, walk)),
    notes: [
      ...draft.notes,
      ...(isPlayable || fault === undefined || draft.walks.length === 0
        ? []
        : [`the recorded walks cannot be played on the policy: ${fault.message}`]),
    ],
  };
  giveOutIn(AGAINST_FORMATS, shown, lookOf(terminal, terminal.out, options.color), options, terminal);
  return isSame(shown) ? STATUS.good : STATUS.found;
}

function isCommentLine(source: Source, line: number): boolean {
  return /^\s*#/.test(lineText(source, line));
}

function walksText({ walks }: Draft): string {
  return wordedWalksYaml(walks, ['What was recorded, to be replayed: each step with what came of it.']);
}
