import {
  answered,
  DIFFERENCE_CLASSES,
  judgedIn,
  lineText,
  positionOf,
  type Judged,
  type DescribedFinding,
  type LiveResult,
  type LiveWalk,
  type SettledFindings,
  type Showing,
  type YamlText,
} from '../core/internal.js';
import { flow, padTo, widthOf } from './columns.js';
import { where } from './diagnostics-text.js';
import { actionWords } from './step-words.js';
import { count, inert, paletteOf, printable, type Look, type Palette } from './style.js';

export interface LiveLook extends Look {
  readonly quiet: boolean;
  /** Every place at which a finding shows, and all that was not judged. */
  readonly verbose: boolean;
}

/** What a run found, with what it was held against. */
export interface ShownRun {
  readonly result: LiveResult;
  readonly settled: SettledFindings;
  readonly app: string;
  /** The address of the app. */
  readonly at: string;
  readonly policy: YamlText;
  readonly live: YamlText;
  /** The version of the program that played. */
  readonly version: string;
}

/** How a real app differs from its policy: a block for each cause, and counts at the end. */
export function liveText({ result, settled, app, at, policy, live }: ShownRun, look: LiveLook): string {
  const palette = paletteOf(look);
  const judged = judgedIn(result.walks);
  const blocks = settled.open.map((finding, index) =>
    findingText(finding, index + 1, policy, result, palette, look),
  );
  const title = `${palette.strong(printable(app))} at ${printable(at)}  ${palette.quiet(`held against ${printable(policy.source.file)}`)}`;
  const accepted = settled.accepted.map(({ finding, because }) =>
    palette.quiet(`accepted: ${printable(finding.title)}, because ${printable(because)}`),
  );
  const idle = settled.idle.map(({ difference, at: place }) =>
    palette.careless(
      `${where(live.placeOf(place))}: accepted, but nothing differs so: ${printable(difference)}; take the entry out`,
    ),
  );
  const missed =
    result.withoutBrowser === null
      ? []
      : [palette.careless(`no walk was played in a browser: ${printable(result.withoutBrowser)}`)];
  const notes = look.quiet ? missed : [...judgedText(judged, palette, look), ...missed];
  const parts = [
    ...(look.quiet ? [] : [title]),
    ...blocks,
    ...(accepted.length === 0 || look.quiet ? [] : [accepted.join('\n')]),
    ...(idle.length === 0 ? [] : [idle.join('\n')]),
    ...(notes.length === 0 ? [] : [notes.join('\n')]),
    summaryLine(result, settled, judged, palette),
  ];
  return parts.map((part) => `${part}\n`).join('\n');
}

function findingText(
  finding: DescribedFinding,
  number: number,
  policy: YamlText,
  result: LiveResult,
  palette: Palette,
  look: LiveLook,
): string {
  const { class: name, title, at, first, also } = finding;
  const tint = name === 'opens' ? palette.bad : palette.careless;
  const lines = [
    `${number}  ${tint(DIFFERENCE_CLASSES[name])}: ${palette.strong(printable(result.cut(title)))}`,
  ];
  if (at !== null && at.length > 0) {
    const place = policy.placeOf(at);
    const { line } = positionOf(place.source, place.start);
    const text = inert(lineText(place.source, line, 300).trim());
    const [shown = ''] = flow([text], look.width - 6 - where(place).length - 2, '');
    lines.push(`   ${palette.quiet(where(place))}  ${shown}`);
  }
  lines.push('', ...showingText(first, result, palette, look));
  if (also.length > 0) lines.push('', ...alsoText(also, palette, look));
  if (finding.describedBy !== null) {
    const { written, at: path } = finding.describedBy;
    const place = where(policy.placeOf(path));
    lines.push(
      '',
      `   Should that be meant, the policy would say ${palette.strong(printable(result.cut(written)))}  ${palette.quiet(place)}`,
    );
  }
  return lines.join('\n');
}

function showingText(
  { walk, step, difference, follow }: Showing,
  result: LiveResult,
  palette: Palette,
  look: LiveLook,
): string[] {
  const { result: expected, seen } = walk.steps[step] ?? {};
  if (expected === undefined || seen === undefined) return [];
  const place = expected.step.at.length === 0 ? walk.walk.at : expected.step.at;
  const head = [
    `   ${palette.strong(printable(walk.walk.name))}, step ${step + 1}: ${printable(actionWords(expected.step))}`,
    expected.step.browser === 'browser' ? '' : palette.person(` in ${printable(expected.step.browser)}`),
    `  ${palette.quiet(where(walk.walk.input.placeOf(place)))}`,
  ].join('');
  const left = expected.played.exchanges.map((exchange) => messageWords(answered(exchange)));
  const right = seen.messages.map((message) =>
    messageWords({
      ...message,
      target: result.cut(message.target),
      location: message.location === null ? null : result.cut(message.location),
    }),
  );
  const differences = difference.aspects.map(({ aspect, policy, app }) =>
    flow(
      [
        `   ${ASPECT_WORDS[aspect]}: by the policy ${printable(policy)}; the app ${printable(result.cut(app))}`,
      ],
      look.width,
      ' ',
    ).join('\n'),
  );
  const later = follow.map((index) => index + 1).join(', ');
  return [
    head,
    ...sideBySide(left, right, palette, look),
    ...differences,
    ...(follow.length === 0
      ? []
      : [
          palette.quiet(
            `   What differs in ${follow.length === 1 ? 'step' : 'steps'} ${later} may follow from it.`,
          ),
        ]),
  ];
}

const ASPECT_WORDS = {
  lands: 'lands',
  status: 'status',
  'seen-as': 'seen as',
  via: 'sent on by',
  refreshes: 'renewed tokens',
  menu: 'menu',
  parts: 'parts',
  holds: 'holds',
} as const;

function messageWords({
  method,
  target,
  status,
  location,
}: {
  method: string;
  target: string;
  status: number;
  location: string | null;
}): string {
  return printable(`${method} ${target} ${status}${location === null ? '' : ` → ${location}`}`);
}

/** What the policy says beside what the app did; the first line that differs is marked. */
function sideBySide(
  left: readonly string[],
  right: readonly string[],
  palette: Palette,
  look: Look,
): string[] {
  const room = Math.floor((look.width - 8) / 2);
  const rows = Math.max(left.length, right.length);
  if (rows === 0) return [];
  const width = Math.min(room, Math.max(12, ...left.map(widthOf)));
  const lines = [`     ${palette.quiet(padTo('by the policy', width))}   ${palette.quiet('the app')}`];
  for (let row = 0; row < rows; row++) {
    const [one, other] = [
      flow([left[row] ?? ''], width, ''),
      flow([right[row] ?? ''], look.width - width - 8, ''),
    ];
    const isSame = left[row] === right[row];
    for (let part = 0; part < Math.max(one.length, other.length); part++) {
      const mark = isSame ? ' ' : palette.bad('≠');
      const text = other[part] ?? '';
      lines.push(
        `     ${padTo(one[part] ?? '', width)} ${part === 0 ? mark : ' '} ${isSame ? text : palette.careless(text)}`.trimEnd(),
      );
    }
  }
  return lines;
}

/** Places at which a cause shows too; the first few, unless all are asked for. */
function alsoText(also: readonly Showing[], palette: Palette, look: LiveLook): string[] {
  const shown = look.verbose ? also : also.slice(0, 3);
  const names = shown.map(
    ({ walk, step }) => `   ${palette.quiet('also')} ${printable(walk.walk.name)}, step ${step + 1}`,
  );
  const left = also.length - shown.length;
  return left === 0
    ? names
    : [...names, palette.quiet(`   and at ${count(left, 'more place')} (--verbose shows all)`)];
}

function judgedText({ notPlayed, unjudged }: Judged, palette: Palette, look: LiveLook): string[] {
  const lines = notPlayed.flatMap(({ reason, steps, walks }) => {
    const names = walks.map((name) => printable(name)).join(' · ');
    const head = `not played: ${count(steps, 'step')} of ${count(walks.length, 'walk')}: ${printable(reason)}`;
    return [
      ...flow(head.split(' '), look.width, ' '),
      ...(look.verbose ? flow(names.split(' '), look.width - 2, ' ').map((line) => `  ${line}`) : []),
    ];
  });
  const reasons = new Map<string, string[]>();
  for (const { aspect, reason, steps } of unjudged) {
    const said = `${ASPECT_WORDS[aspect]} in ${count(steps, 'step')}`;
    reasons.set(reason, [...(reasons.get(reason) ?? []), said]);
  }
  const aspects = [...reasons].flatMap(([reason, said]) =>
    flow(`not judged: ${printable(reason)}: ${said.join(', ')}`.split(' '), look.width, ' '),
  );
  return [...lines, ...aspects].map((line) => palette.quiet(line));
}

function summaryLine(
  { walks, requests, together }: LiveResult,
  { open, accepted }: SettledFindings,
  { steps }: Judged,
  palette: Palette,
): string {
  const namesOf = (some: readonly LiveWalk[]) => new Set(some.map(({ walk }) => walk)).size;
  const played = walks.filter((walk) => walk.steps.length > 0);
  const inBrowser = namesOf(played.filter(({ driver }) => driver === 'browser'));
  const how = [
    count(requests, 'request'),
    ...(together > 1 ? [`${together} at the same time`] : []),
    ...(inBrowser > 0 ? [`${inBrowser} in a browser`] : []),
  ].join(', ');
  const what = `${count(namesOf(played), 'walk')}, ${count(steps, 'step')} (${how})`;
  const known = accepted.length === 0 ? '' : `, ${accepted.length} accepted`;
  if (open.length > 0) return palette.bad(`${what}: ${count(open.length, 'difference')}${known}`);
  return steps === 0
    ? palette.careless('nothing was played')
    : palette.good(`${what}: the app does what the policy says${known}`);
}
