import {
  formatDuration,
  holdingsOf,
  positionOf,
  recordsOf,
  type Exchange,
  type Holding,
  type Stage,
  type StepResult,
  type YamlText,
} from '../core/internal.js';
import { flow } from './columns.js';
import { printable, type Look, type Palette } from './style.js';

/** Every message of a step, and what the browser holds after it with the time that is left of each. */
export function messagesText(
  result: StepResult,
  stage: Stage,
  policy: YamlText,
  palette: Palette,
  look: Look,
): string[] {
  const { exchanges, state, browser } = result.played;
  const held = holdingsOf(stage, state, browser, result.time);
  const lines = [
    ...exchanges.flatMap((exchange) => exchangeLines(exchange, policy, palette)),
    ...held.map((holding) => holdingLine(holding, palette)),
    ...recordLines(stage, result, held, palette),
  ];
  return lines.flatMap((line) => wrapped(line, look));
}

/** What the browser holds after a step, with the time that is left of each. */
export function heldText(result: StepResult, stage: Stage, palette: Palette, look: Look): string[] {
  const { state, browser } = result.played;
  const held = holdingsOf(stage, state, browser, result.time);
  return held.flatMap((holding) => wrapped(holdingLine(holding, palette), look));
}

interface Line {
  readonly mark: string;
  readonly text: string;
  readonly tint: (text: string) => string;
}

const INDENT = '      ';

function wrapped({ mark, text, tint }: Line, look: Look): string[] {
  const room = look.width - INDENT.length - mark.length - 1;
  return flow(printable(text).split(' '), room, ' ').map(
    (part, at) => `${INDENT}${at === 0 ? mark : ' '.repeat(mark.length)} ${tint(part)}`,
  );
}

function exchangeLines(exchange: Exchange, policy: YamlText, palette: Palette): Line[] {
  const { request, response, explanation, visitor } = exchange;
  const asked = [
    `${request.method} ${request.path}${request.query}`,
    ...(request.cookie === '' ? [] : [`Cookie: ${request.cookie}`]),
    ...(request.authorization === '' ? [] : [`Authorization: ${request.authorization}`]),
    ...(request.form.size === 0 ? [] : [`form: ${formWords(request.form)}`]),
  ];
  const answered = [
    String(response.status),
    ...(response.location === null ? [] : [`Location: ${response.location}`]),
    ...response.setCookie.map((header) => `Set-Cookie: ${header}`),
    ...(response.noStore ? ['Cache-Control: no-store'] : []),
    ...(response.authenticate === null ? [] : [`WWW-Authenticate: ${response.authenticate}`]),
    ...(response.allow.length === 0 ? [] : [`Allow: ${response.allow.join(', ')}`]),
    ...bodyWords(response.body),
  ];
  const { decidedBy, reason, seenAs, actedBy = null } = explanation;
  const line = positionOf(policy.source, policy.placeOf(decidedBy).start).line;
  const by = visitor.by === null || explanation.seenAs === null ? '' : ` by ${visitor.by}`;
  const acting = actedBy === null ? '' : ` for whom ${actedBy} acts`;
  const decision = `${reason}, seen as ${seenAs ?? 'guest'}${acting}${by}${decidedBy.length === 0 ? '' : ` (line ${line})`}`;
  const same = (text: string) => text;
  return [
    { mark: '→', text: asked.join(' · '), tint: same },
    { mark: ' ', text: decision, tint: reason === 'served' ? palette.quiet : palette.careless },
    { mark: '←', text: answered.join(' · '), tint: same },
  ];
}

/** The fields of a form without what is secret in them. */
function formWords(form: ReadonlyMap<string, string>): string {
  return [...form].map(([name, value]) => `${name}=${name === 'password' ? '…' : value}`).join(', ');
}

/** Where tokens went; a page says nothing that is not shown already. */
function bodyWords(body: Exchange['response']['body']): string[] {
  if (body.kind === 'tokens') {
    const refresh = body.refreshToken === null ? '' : ` and ${body.refreshToken}`;
    return [`tokens: ${body.accessToken}${refresh}, to the script of the page`];
  }
  if (body.kind === 'token-error') return [`error: ${body.error}`];
  if (body.kind === 'problem') return [`problem: ${body.title}`];
  return body.kind === 'refused-login' || body.kind === 'next' ? [`next: ${body.next}`] : [];
}

/** What the app still honours beside what this browser holds: another browser has it, or had it. */
function recordLines(
  stage: Stage,
  { played, time }: StepResult,
  held: readonly Holding[],
  palette: Palette,
): Line[] {
  const records = recordsOf(stage, played.state, time);
  const others = records.filter(({ handle }) => held.every((holding) => holding.handle !== handle));
  const over = others
    .filter(({ what, because }) => what === 'session' && because !== null)
    .map(({ handle, account, because }) => `${handle} of ${account}: ${because ?? ''}`);
  return [
    ...others
      .filter(({ counts }) => counts)
      .map((record) => ({
        mark: '▪',
        text: [
          `app also honours ${record.what} ${record.handle} of ${record.account}`,
          ...limitWords(record),
        ].join(' · '),
        tint: palette.quiet,
      })),
    ...(over.length === 0 ? [] : [{ mark: '▪', text: `over: ${over.join(' · ')}`, tint: palette.quiet }]),
  ];
}

function holdingLine(holding: Holding, palette: Palette): Line {
  const tint = holding.counts ? palette.person : palette.quiet;
  return { mark: '◦', text: holdingWords(holding), tint };
}

export function holdingWords({ what, handle, counts, because, left }: Holding): string {
  const why = because === null ? 'does not count' : `does not count: ${because}`;
  const state = counts ? 'counts' : because === 'guest' ? "a guest's" : why;
  return [`${what} ${handle}`, state, ...limitWords({ left })].join(' · ');
}

/** The limits of a credential, each with what is left of it. */
export function limitWords({ left }: Pick<Holding, 'left'>): string[] {
  return left.map(({ limit, seconds }) =>
    seconds === 0 ? `${limit} over` : `${limit} ${formatDuration(seconds)} left`,
  );
}
