import {
  audienceWords,
  formatDuration,
  positionOf,
  stateName,
  type Change,
  type ChangeStep,
  type Explained,
  type LoginState,
  type YamlText,
} from '../core/internal.js';
import { flow } from './columns.js';
import type { WhyJson } from './json-formats.js';
import { requestWords } from './step-words.js';
import { count, paletteOf, printable, type Look } from './style.js';
import { jsonText } from './json.js';

type At = Parameters<YamlText['placeOf']>[0];

export interface WhyLook extends Look {
  /** Show the rules too that are for other paths. */
  readonly all: boolean;
}

/** Why a request comes out as it does: what matched, whom the app sees, what came of it, and what would admit them. */
export function whyText(explained: Explained, who: LoginState, policy: YamlText, look: WhyLook): string {
  const palette = paletteOf(look);
  const line = (at: At) => palette.quiet(`(line ${lineOf(policy, at)})`);
  const { route, page, grounds, rules } = explained;
  const rows: [string, string][] = [];
  rows.push(['request', `${explained.method} ${printable(explained.address)}, by ${stateName(who)}`]);
  if (route === null) {
    rows.push(['path', 'it cannot be read safely, so it is refused before the policy is asked']);
  } else {
    rows.push(['page', page === null ? 'none' : `${printable(page.pattern.text)} ${line(page.at)}`]);
    const shown = look.all ? rules : rules.filter(({ isNear }) => isNear);
    for (const { rule, matches, because } of shown) {
      const mark = matches ? palette.good('matches') : `no: ${printable(because ?? '')}`;
      rows.push([`rule ${rule.number}`, `${mark} ${line(rule.at)}`]);
    }
    const left = rules.length - shown.length;
    const others =
      left === 0
        ? []
        : [
            palette.quiet(
              `${count(left, 'rule')} for other paths ${left === 1 ? 'is' : 'are'} left out (--all)`,
            ),
          ];
    const none = rules.every((rule) => !rule.matches) ? ['none matches'] : [];
    if (none.length + others.length > 0) rows.push(['rules', [...none, ...others].join('; ')]);
    if (page !== null && !route.isAnswered) {
      const answered = page.answers?.join(', ') ?? 'none';
      rows.push(['method', `the page answers ${answered} ${line([...page.at, 'methods'])}`]);
    } else if (grounds !== null) {
      const by = { page: 'the page', rule: 'the rule', otherwise: 'otherwise', endpoint: 'its endpoint' };
      rows.push([
        'audience',
        `${printable(audienceWords(grounds.audience))}, as ${by[grounds.by]} says ${line(grounds.at)}`,
      ]);
    }
  }
  rows.push(['visitor', visitorWords(explained, who)]);
  const { barrier } = explained;
  if (barrier !== null) {
    const whom = `stops ${printable(audienceWords(barrier.stops.audience))}`;
    rows.push(['barrier', `${palette.bad(printable(barrier.name))} ${whom} ${line(barrier.at)}`]);
  }
  if (explained.closedBy !== null) {
    const [, key] = explained.closedBy;
    rows.push(['acting', `${ACTING[String(key)] ?? ''} ${line(explained.closedBy)}`]);
  }
  rows.push(['outcome', outcomeWords(explained, palette.good, palette.bad)]);
  for (const each of explained.lacking) rows.push(['lacks', lackWords(each)]);
  rows.push(['the way', wayWords(explained)]);
  for (const { part, admitted } of explained.parts) {
    const seen =
      admitted === 'served' ? palette.good('shown') : `hidden, for ${audienceWords(part.audience.audience)}`;
    rows.push([`part ${part.name}`, `${printable(seen)} ${line(part.at)}`]);
  }
  if (explained.isMissing) {
    rows.push(['to get in', 'there is nothing here: add a page for the address, whoever is to see it']);
  } else if (explained.changes.length > 0) {
    const [first, ...more] = explained.changes.map(changeWords);
    rows.push(['to get in', first ?? ''], ...more.map((change): [string, string] => ['or', change]));
  } else if (explained.admitted !== 'served' && route !== null) {
    rows.push(['to get in', 'no small change would admit them']);
  }
  const width = Math.max(...rows.map(([name]) => name.length));
  return rows
    .flatMap(([name, text]) =>
      flow(text.split(' '), look.width - width - 2, ' ').map(
        (part, at) => `${palette.quiet((at === 0 ? name : '').padEnd(width))}  ${part}`,
      ),
    )
    .map((each) => `${each.trimEnd()}\n`)
    .join('');
}

/** What the rules of acting for somebody say, by the key that does. */
const ACTING: Readonly<Record<string, string>> = {
  not: 'closed to whoever acts for somebody',
  start: 'whoever acts for somebody acts for nobody else meanwhile',
  of: 'nobody acts for that account',
  by: 'this visitor acts for nobody',
};

function lineOf(policy: YamlText, at: At): number {
  return positionOf(policy.source, policy.placeOf(at).start).line;
}

function visitorWords({ visitor, given }: Explained, who: LoginState): string {
  if (visitor.account === null) {
    const why = visitor.reason === 'guest' ? '' : `: ${visitor.reason}`;
    const account = who.account === null ? undefined : who.state.accounts.get(who.account);
    const shut =
      account === undefined || account.state === 'active' ? '' : `; the account is ${account.state}`;
    return `a guest${why}${shut}`;
  }
  const roles = given.map(({ role, brings }) =>
    brings.length === 0 ? role : `${role} (which brings ${brings.join(', ')})`,
  );
  const parts = [
    roles.length === 0 ? 'no role' : `holds ${roles.join(', ')}`,
    ...[...visitor.facts].map(([name, values]) => `${name} ${values.join(' and ')}`),
    ...(visitor.joinedAt === null ? [] : [`joined ${formatDuration(who.time - visitor.joinedAt)} ago`]),
    ...(visitor.secondFactor ? ['gave a one-time code'] : []),
    `known by a ${visitor.by ?? 'session'}`,
    ...(visitor.since === null || who.time === 0
      ? []
      : [`logged in ${formatDuration(who.time - visitor.since)} ago`]),
  ];
  const acted = visitor.actedBy === null ? '' : `, for whom ${visitor.actedBy} acts`;
  return `${printable(visitor.account + acted)}: ${printable(parts.join('; '))}`;
}

function outcomeWords(
  { outcome }: Explained,
  good: (text: string) => string,
  bad: (text: string) => string,
): string {
  const reason = outcome.why ?? 'served';
  return reason === 'served' ? good('served') : bad(reason);
}

function lackWords({ fact, wanted, held, parameter }: Explained['lacking'][number]): string {
  const named = parameter === null ? '' : `, as :${parameter} in the path says`;
  const own = held.length === 0 ? `has no ${fact}` : `has ${fact} ${held.join(' and ')}`;
  return printable(`${fact} ${wanted.join(' or ')}${named}; the visitor ${own}`);
}

function wayWords({ played }: Explained): string {
  const hops = played.exchanges.map((exchange) => {
    const sendsOn = exchange.response.location !== null;
    return `${requestWords(exchange)} ${exchange.response.status}${sendsOn ? ' →' : ''}`;
  });
  return printable(hops.join(' '));
}

/** A change in words: `hold bursar`, `log in and hold bursar`. */
export function changeWords(change: Change): string {
  return change.map(stepWords).join(', and ');
}

function stepWords(step: ChangeStep): string {
  switch (step.change) {
    case 'log-in':
      return 'log in';
    case 'log-out':
      return 'log out';
    case 'log-in-again':
      return 'log in again';
    case 'give-code':
      return 'give a one-time code';
    case 'be-active':
      return 'have an active account and log in';
    case 'hold':
      return `hold ${printable(step.role)}`;
    case 'lose':
      return `no longer hold ${printable(step.role)}`;
    case 'have-facts':
      return `have ${printable([...step.facts].map(([name, values]) => `${name} ${values.join(' and ')}`).join(' and '))}`;
    case 'switch':
      return `have ${printable([...step.flags].map(([flag, isOn]) => `${flag} ${isOn ? 'on' : 'off'}`).join(' and '))}`;
    case 'join-lately':
      return `have joined within ${formatDuration(step.within)}`;
    case 'be':
      return `be the account ${printable(step.account)}`;
  }
}

/** The same in the format `cavrin/why`. */
export function whyJson(explained: Explained, who: LoginState, policy: YamlText): string {
  const { method, address, page, rules, grounds, visitor, outcome, played } = explained;
  const shown = played.browser.tab.page?.address ?? null;
  const json: WhyJson = {
    format: 'cavrin/why',
    version: 1,
    policy: policy.source.file,
    method,
    address,
    state: stateName(who),
    page: page === null ? null : { path: page.pattern.text, line: lineOf(policy, page.at) },
    rules: rules.map(({ rule, matches, because }) => ({
      number: rule.number,
      line: lineOf(policy, rule.at),
      matches,
      because,
    })),
    audience:
      grounds === null
        ? null
        : { words: audienceWords(grounds.audience), by: grounds.by, line: lineOf(policy, grounds.at) },
    visitor: {
      account: visitor.account,
      actedBy: visitor.actedBy,
      roles: [...visitor.roles],
      reason: visitor.reason,
    },
    admitted: outcome.why ?? 'served',
    barrier: explained.barrier?.name ?? null,
    lacks: explained.lacking.map(lackWords),
    parts: explained.parts.map(({ part, admitted: seen }) => ({
      name: part.name,
      line: lineOf(policy, part.at),
      shown: seen === 'served',
    })),
    status: played.exchanges.at(-1)?.response.status ?? null,
    lands: shown === null ? null : shown.path + shown.query,
    changes: explained.changes.map((change) => change.map(stepWords)),
  };
  return jsonText(json);
}
