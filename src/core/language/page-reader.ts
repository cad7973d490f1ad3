import { PageIndex } from '../paths/page-index.js';
import { parameterNames, type Pattern } from '../paths/pattern.js';
import { readStated, type Names } from './audience-reader.js';
import { readForward } from './landing-reader.js';
import { readEndpoint } from './endpoint-reader.js';
import { checkName, readAddress, readPattern, type Scope } from './text/name-reader.js';
import { readFacts } from './people-reader.js';
import type { Page, Part } from './policy.js';
import type { PolicyText } from './policy-schema.js';
import { problem } from './text/problems.js';
import { readShownHow } from './rule-reader.js';
import { nearest } from './text/suggestions.js';
import type { Path } from './text/yaml-text.js';

/** Reads the pages. */
export function readPages(
  pages: NonNullable<PolicyText['pages']>,
  ignoresCase: boolean,
  names: Names,
  scope: Scope,
): Page[] {
  const index = new PageIndex<Page>();
  return Object.entries(pages).map(([path, page]) => {
    const at: Path = ['pages', path];
    const pattern = readPattern(path, at, scope, 'key');
    const result: Page = {
      at,
      pattern,
      kind: page.kind ?? null,
      audiences: readStated(page, at, [pattern], names, Array.isArray(page.methods) ? {} : page.methods),
      forward:
        page.forward === undefined ? null : readForward(page.forward, [...at, 'forward'], names, scope),
      loads: (page.loads ?? []).map((request, load) => readEndpoint(request, [...at, 'loads', load], scope)),
      answers: Array.isArray(page.methods) ? page.methods : null,
      afterWrite: readAfterWrite(page, at, pattern, scope),
      parts: Object.entries(page.parts ?? {}).map(([name, part]) =>
        readPart(name, part, at, pattern, names, scope),
      ),
      sets: page.sets === undefined ? null : readFacts(page.sets, [...at, 'sets'], scope),
      ...readShownHow(page, at, scope),
    };
    refuseUnknown(page, at, scope);
    const earlier = index.add(ignoresCase ? inLowerCase(pattern) : pattern, result);
    if (earlier !== null) {
      const place = scope.input.placeOfKey(['pages'], earlier.pattern.text);
      const related = [{ place, message: 'the other page' }];
      scope.report(problem('same-path', { path }, scope.input.placeOfKey(['pages'], path), related));
    }
    return result;
  });
}

function inLowerCase(pattern: Pattern): Pattern {
  const segments = pattern.segments.map((segment) =>
    segment.kind === 'literal' ? { ...segment, text: segment.text.toLowerCase() } : segment,
  );
  return { ...pattern, segments };
}

type PageText = NonNullable<PolicyText['pages']>[string];

/** A page is there: what is said of addresses without one has no place on it. */
function refuseUnknown({ refusals }: PageText, at: Path, scope: Scope): void {
  if (refusals?.unknown === undefined && refusals?.api?.unknown === undefined) return;
  const key: Path = refusals.unknown === undefined ? ['refusals', 'api'] : ['refusals'];
  const says =
    'a page is there, so that nobody is refused for unknown here: write it in a rule or the policy';
  scope.report(problem('bad-value', { problem: says }, scope.input.placeOfKey([...at, ...key], 'unknown')));
}

type PartText = NonNullable<PageText['parts']>[string];

function readPart(
  name: string,
  text: PartText,
  page: Path,
  pattern: Pattern,
  names: Names,
  scope: Scope,
): Part {
  const at: Path = [...page, 'parts', name];
  checkName(name, 'part', scope.input.placeOfKey([...page, 'parts'], name), scope.report);
  const place: Path = [...at, 'sends'];
  if (text.sends !== undefined) checkParameters(text.sends.target, place, pattern, scope);
  return {
    at,
    name,
    text: text.text,
    audience: { audience: names.audience(text.for, [...at, 'for'], [pattern]), at: [...at, 'for'] },
    sends: text.sends === undefined ? null : readEndpoint(text.sends, place, scope),
  };
}

/** Reports parameters in an address that the path of its page does not have. */
function checkParameters(address: string, place: Path, pattern: Pattern, scope: Scope): void {
  const known = parameterNames(pattern);
  for (const [, name = ''] of address.matchAll(/:([A-Za-z][\w-]*)/g)) {
    if (known.includes(name)) continue;
    const near = nearest(name, known);
    const params = { name, near, path: pattern.text };
    scope.report(problem('unknown-parameter', params, scope.input.placeOf(place)));
  }
}

function readAfterWrite(text: PageText, at: Path, pattern: Pattern, scope: Scope): Page['afterWrite'] {
  const to = text['after-write'] ?? 'stays';
  const status = text['write-status'] ?? 200;
  if (text['write-status'] !== undefined && (to !== 'stays' || text.kind === 'page')) {
    const says = 'a status is for what is not sent on to a page: leave out after-write and kind: page';
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf([...at, 'write-status'])));
  }
  if (to === 'stays') return { to: null, status };
  const place: Path = [...at, 'after-write'];
  checkParameters(to, place, pattern, scope);
  return { to: readAddress(to, place, scope), status: 303 };
}
