import {
  positionOf,
  type AgainstPolicy,
  type Path,
  type WalkResult,
  type YamlText,
} from '../../core/internal.js';
import { flow } from '../columns.js';
import { linked, paletteOf, printable, type Look } from '../style.js';
import { otherwiseIn } from './draft-text.js';

/** Sources held against a policy that is there. */
export interface ShownAgainst {
  readonly app: string;
  readonly input: YamlText;
  readonly compared: AgainstPolicy;
  /** The recorded walks, played on the policy. */
  readonly results: readonly WalkResult[];
  readonly notes: readonly string[];
}

/** The line of the policy at which something stands. */
export function lineIn(input: YamlText, at: Path): number {
  return positionOf(input.source, input.placeOf(at).start).line;
}

/** Whether sources and policy say the same. */
export function isSame({ compared, results }: ShownAgainst): boolean {
  const { notInPolicy, notInSources, otherwise } = compared;
  return (
    notInPolicy.length + notInSources.length + otherwise.length === 0 && otherwiseIn(results).length === 0
  );
}

/** What the sources have and the policy lacks, the reverse, and what is otherwise. */
export function againstText(shown: ShownAgainst, look: Look): string {
  const { app, input, compared, results, notes } = shown;
  const { notInPolicy, notInSources, otherwise } = compared;
  const palette = paletteOf(look);
  const lines = [`${palette.strong(printable(app))}  ${palette.quiet(printable(input.source.file))}`];
  const wrapped = (mark: string, text: string) =>
    flow(printable(text).split(' '), look.width - 4, ' ').map(
      (line, at) => `${at === 0 ? mark : ' '} ${line}`,
    );
  const lineOf = (at: Path) => {
    const line = lineIn(input, at);
    return palette.quiet(linked(`line ${line}`, input.source.file, line, look));
  };
  const block = (title: string, rows: readonly string[]) => {
    if (rows.length > 0) lines.push('', palette.strong(title), ...rows);
  };
  block(
    'In the sources, and not in the policy',
    notInPolicy.map(({ what }) => `${palette.bad('+')} ${printable(what)}`),
  );
  block(
    'In the policy, and not in the sources',
    notInSources.map(({ what, at }) => `${palette.careless('–')} ${printable(what)}  ${lineOf(at)}`),
  );
  block(
    'Otherwise in the policy',
    otherwise.map(
      ({ what, inSources, inPolicy, at }) =>
        `${palette.bad('≠')} ${printable(what)}: in the sources ${printable(inSources)}; in the policy ${printable(inPolicy)}  ${lineOf(at)}`,
    ),
  );
  block(
    'Recorded, and otherwise on the policy',
    otherwiseIn(results).flatMap(({ walk, step, does, differences }) =>
      wrapped(palette.bad('✗'), `${walk}, step ${step}, ${does}: ${differences.join('; ')}`),
    ),
  );
  if (notes.length > 0) lines.push('', ...notes.flatMap((note) => wrapped(palette.careless('!'), note)));
  const steps = results.reduce((sum, result) => sum + result.steps.length, 0);
  const played = results.length === 0 ? '' : `, and ${steps} recorded steps come out on it`;
  if (isSame(shown)) {
    lines.push('', palette.good(`The policy has what the sources have, and nothing else${played}.`));
  }
  return `${lines.join('\n')}\n`;
}
