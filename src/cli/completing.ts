import type { Argument, Command, Option } from 'commander';
import { readTexts } from './files.js';
import { openProject, type Usable } from './project.js';
import type { Terminal } from './terminal.js';

/** The shells for which there is a script. */
export const SHELLS = ['bash', 'zsh', 'fish'] as const;

/** Something that may stand next on a command line. */
export interface Candidate {
  readonly text: string;
  /** What it is, where a shell shows that. */
  readonly about: string;
}

/**
 * What may stand at a place of a command line: commands, options, their choices, and the names of a policy: walks, accounts,
 * pages. Where nothing is known a shell completes files.
 *
 * @param words what stands after the name of the program, up to and with the word that is being written
 */
export async function candidatesFor(
  program: Command,
  words: readonly string[],
  terminal: Terminal,
): Promise<Candidate[]> {
  const current = unquoted(words.at(-1) ?? '');
  const before = words.slice(0, -1).map(unquoted);
  const all = await allCandidates(program, before, current, terminal);
  return all.filter(({ text }) => text.toLowerCase().startsWith(current.toLowerCase()));
}

/** A word as a shell hands it over that has it still as it was typed: in quotes, which may not be closed yet, or with backslashes. */
function unquoted(word: string): string {
  return word.replace(
    /'([^']*)(?:'|$)|"((?:[^"\\]|\\.)*)(?:"|\\?$)|\\(.)/gs,
    (_, plain?: string, quoted?: string, escaped?: string) =>
      plain ?? quoted?.replace(/\\([\\"$`])/g, '$1') ?? escaped ?? '',
  );
}

async function allCandidates(
  program: Command,
  before: readonly string[],
  current: string,
  terminal: Terminal,
): Promise<Candidate[]> {
  const [name] = before;
  if (name === undefined) {
    return program.commands.map((each) => ({ text: each.name(), about: each.summary() }));
  }
  const command = program.commands.find((each) => each.name() === name);
  if (command === undefined) return [];
  const valued = optionWithValue(command, before.at(-1) ?? '');
  if (valued !== undefined) return valuesOf(valued, before, terminal);
  if (current.startsWith('-')) {
    return command.options.flatMap((option) =>
      option.hidden || option.long === undefined ? [] : [{ text: option.long, about: option.description }],
    );
  }
  const given = positionals(command, before.slice(1));
  return argumentsOf(command, given, before, terminal);
}

/** The option that a word is, where a value follows it. */
function optionWithValue(command: Command, word: string): Option | undefined {
  return command.options.find((option) => option.long === word && (option.required || option.optional));
}

/** The words that are no options, nor values of options. */
function positionals(command: Command, words: readonly string[]): string[] {
  return words.filter(
    (word, at) => !word.startsWith('-') && optionWithValue(command, words[at - 1] ?? '') === undefined,
  );
}

async function valuesOf(option: Option, before: readonly string[], terminal: Terminal): Promise<Candidate[]> {
  if (option.argChoices !== undefined) return option.argChoices.map(plain);
  if (option.long === '--only') return walkNames(await projectOf(before, terminal));
  if (option.long === '--as') {
    const accounts = (await projectOf(before, terminal))?.policy.accounts.keys() ?? [];
    return [...accounts, 'guest'].map(plain);
  }
  return [];
}

async function argumentsOf(
  command: Command,
  given: readonly string[],
  before: readonly string[],
  terminal: Terminal,
): Promise<Candidate[]> {
  const expected: Argument | undefined = command.registeredArguments[given.length];
  if (expected?.argChoices !== undefined) return expected.argChoices.map(plain);
  if (command.name() === 'completion' && given.length === 0) return SHELLS.map(plain);
  if (command.name() === 'why' && given.length === 0) {
    const pages = (await projectOf(before, terminal))?.policy.pages ?? [];
    return pages.map(({ pattern }) => plain(pattern.text));
  }
  if (command.name() === 'draw' && given.length === 1 && given[0] === 'walk') {
    return walkNames(await projectOf(before, terminal));
  }
  return [];
}

function walkNames(project: Usable | null): Candidate[] {
  return (project?.walks ?? []).map(({ name }) => plain(name));
}

/** The policy that a line names, or the nearest; null where it cannot be used. */
async function projectOf(words: readonly string[], { folder }: Terminal): Promise<Usable | null> {
  const policy = words.find((word) => /\.ya?ml$/i.test(word));
  const project = await openProject(readTexts({ folder, policy, walks: [] }));
  return 'faults' in project ? null : project;
}

function plain(text: string): Candidate {
  return { text, about: '' };
}
