import { hasLines, type Draft, type DraftedLine, type DraftedSection } from '../../core/internal.js';
import { flowYaml } from '../walk-yaml.js';
import { printable } from '../style.js';

/** Wider lines have their comment above them. */
const WIDEST = 120;

/** A drafted policy as a file: what was seen as it is, what is guessed with a comment that `check` finds. */
export function draftText({ sections }: Draft, from: readonly string[]): string {
  const head = [
    `# A first policy, drafted from ${from.map(plain).join(', ')}.`,
    '# What was seen is written as it was seen. What is guessed has a comment that starts with "guess", which cavrin check tells of:',
    '# correct the line where it is wrong, and delete the comment.',
  ];
  return `${[...head, ...sections.flatMap(sectionLines)].join('\n')}\n`;
}

function sectionLines(section: DraftedSection): string[] {
  const { key, value } = section;
  if (!hasLines(value)) return [...line(`${key}: `, flowYaml(value), section, '')];
  if (value.lines.length === 0) return [`${key}: {}`];
  return [
    '',
    ...line(`${key}:`, '', section, ''),
    ...value.lines.flatMap((each: DraftedLine) =>
      line(each.key === null ? '- ' : `${keyYaml(each.key)}: `, flowYaml(each.value), each, '  '),
    ),
  ];
}

function line(
  key: string,
  value: string,
  { guess = null, seen = null }: Pick<DraftedSection, 'guess' | 'seen'>,
  indent: string,
): string[] {
  const text = `${indent}${key}${value}`.trimEnd();
  const comment = guess !== null ? `# guess: ${plain(guess)}` : seen !== null ? `# ${plain(seen)}` : null;
  if (comment === null) return [text];
  if (text.length + comment.length < WIDEST) return [`${text} ${comment}`];
  return [`${indent}${comment}`, text];
}

/** A key of a map on a line of its own. */
function keyYaml(key: string): string {
  return flowYaml(key);
}

/** Text of others in a comment: on one line, with what is not seen written out. */
function plain(text: string): string {
  return printable(text).replace(/\s+/g, ' ');
}
