import {
  differenceWords,
  lineText,
  positionOf,
  stepWords,
  type Diagnostic,
  type Guess,
  type StepResult,
  type WalkResult,
} from '../../core/internal.js';
import { flow, padTo, widthOf } from '../columns.js';
import { diagnosticsText } from '../diagnostics-text.js';
import { count, linked, paletteOf, printable, type Look } from '../style.js';

/** A draft that was written, and what came of reading it back. */
export interface ShownDraft {
  readonly files: readonly { readonly name: string; readonly text: string }[];
  readonly pages: number;
  readonly accounts: number;
  /** What is wrong with the draft as a policy. */
  readonly faults: readonly Diagnostic[];
  readonly guesses: readonly Guess[];
  readonly notes: readonly string[];
  /** The recorded walks, played on the draft. */
  readonly results: readonly WalkResult[];
}

export interface DraftLook extends Look {
  /** Show only what went wrong. */
  readonly quiet: boolean;
}

/** What came otherwise than it was recorded. */
export interface Otherwise {
  readonly walk: string;
  /** From 1. */
  readonly step: number;
  readonly does: string;
  readonly differences: readonly string[];
}

/** The recorded steps that come out otherwise on a policy. */
export function otherwiseIn(results: readonly WalkResult[]): Otherwise[] {
  return results.flatMap(({ walk, steps }) =>
    steps.flatMap((result, at): Otherwise[] => {
      const differences = differencesOf(result);
      const does = stepWords(result.step.action);
      return differences.length === 0 ? [] : [{ walk: walk.name, step: at + 1, does, differences }];
    }),
  );
}

/** Laws are left to `cavrin walk`: no recording tells of them. */
function differencesOf({ differences, impossible }: StepResult): string[] {
  return [...(impossible === null ? [] : [impossible]), ...differences.map(differenceWords)];
}

/** What a guess is of: the key on its line, or on the next where it stands alone. */
function subjectOf({ place: { source, start } }: Guess): string {
  const { line } = positionOf(source, start);
  const own = lineText(source, line);
  const text = (own.trimStart().startsWith('#') ? lineText(source, line + 1) : own).trim();
  const [, key = ''] = /^(?:- \{ )?(.*?):(?: |$)/.exec(text) ?? [];
  return printable(key);
}

/** The rest is told by `cavrin check`. */
const MOST_GUESSES = 25;

/** What was drafted: files, guesses with their lines, and whether what was recorded comes out on it. */
export function draftSummary(shown: ShownDraft, look: DraftLook): string {
  const { files, pages, accounts, faults, guesses, notes, results } = shown;
  const palette = paletteOf(look);
  const wrapped = (mark: string, text: string) =>
    flow(printable(text).split(' '), look.width - 4, ' ').map(
      (line, at) => `${at === 0 ? mark : ' '} ${line}`,
    );
  const otherwise = otherwiseIn(results);
  const steps = results.reduce((sum, result) => sum + result.steps.length, 0);
  const wrong = otherwise.flatMap(({ walk, step, does, differences }) =>
    wrapped(palette.bad('✗'), `${walk}, step ${step}, ${does}: ${differences.join('; ')}`),
  );
  const played =
    results.length === 0
      ? []
      : [
          otherwise.length === 0
            ? `${palette.good('✓')} ${count(results.length, 'recorded walk')} with ${count(steps, 'step')} ${results.length === 1 ? 'comes' : 'come'} out on the draft as recorded`
            : `${palette.bad('✗')} ${count(otherwise.length, 'step')} of ${steps} ${otherwise.length === 1 ? 'comes' : 'come'} out otherwise on the draft than recorded:`,
          ...wrong,
        ];
  const troubles = faults.length === 0 ? [] : [diagnosticsText(faults, look).trimEnd()];
  if (look.quiet) {
    return [...troubles, ...(otherwise.length === 0 ? [] : played)].map((line) => `${line}\n`).join('');
  }
  const [policy] = files;
  const more = guesses.length > MOST_GUESSES ? [`  and ${guesses.length - MOST_GUESSES} more`] : [];
  const shownGuesses = guesses.slice(0, MOST_GUESSES).map((guess) => ({ ...guess, of: subjectOf(guess) }));
  const widest = Math.min(24, Math.max(0, ...shownGuesses.map(({ of }) => widthOf(of))));
  const guessed = shownGuesses.flatMap(({ text, place, of }) => {
    const { line } = positionOf(place.source, place.start);
    const where = `line ${line}`;
    const lead = `  ${linked(where, place.source.file, line, look)}${' '.repeat(Math.max(1, 9 - where.length))}${padTo(of, widest)}  `;
    const indent = ' '.repeat(13 + widest);
    return flow(printable(text).split(' '), look.width - indent.length, ' ').map((part, at) =>
      at === 0 ? `${lead}${part}` : `${indent}${part}`,
    );
  });
  const lines = [
    palette.strong(`Drafted ${count(pages, 'page')} and ${count(accounts, 'account')}`),
    ...files.map(({ name }) => `  wrote ${printable(name)}`),
    '',
    ...(guesses.length === 0
      ? []
      : [
          `${palette.careless(`Guessed ${count(guesses.length, 'time')}`)}, which cavrin check tells of until the comment is gone:`,
          ...guessed,
          ...more,
          '',
        ]),
    ...(notes.length === 0 ? [] : [...notes.flatMap((note) => wrapped(palette.careless('!'), note)), '']),
    ...troubles,
    ...played,
    ...(played.length === 0 ? [] : ['']),
    palette.quiet(
      `next: decide the guesses in ${printable(policy?.name ?? '')}, ${results.length === 0 ? 'then cavrin check, and cavrin coverage --propose walks.yaml for walks' : 'then cavrin check and cavrin walk'}`,
    ),
  ];
  return `${lines.join('\n')}\n`;
}
