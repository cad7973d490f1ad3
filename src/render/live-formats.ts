import {
  answered,
  DIFFERENCE_CLASSES,
  judgedIn,
  type Diagnostic,
  type DescribedFinding,
  type LiveResult,
  type Showing,
} from '../core/internal.js';
import { startOf } from './findings-json.js';
import type { LiveJson } from './json-formats.js';
import { jsonText } from './json.js';
import { junitOf } from './junit.js';
import type { ShownRun } from './live-text.js';
import { actionWords } from './step-words.js';

type ShowingJson = LiveJson['findings'][number]['first'];

/** What a run found, in the format `cavrin/live`. */
export function liveJson({ result, settled, app, at, policy }: ShownRun): string {
  const judged = judgedIn(result.walks);
  const finding = (each: DescribedFinding, accepted: string | null): LiveJson['findings'][number] => ({
    class: each.class,
    title: result.cut(each.title),
    place: each.at === null || each.at.length === 0 ? null : startOf(policy.placeOf(each.at)),
    accepted,
    describedBy: each.describedBy === null ? null : result.cut(each.describedBy.written),
    first: showingJson(each.first, result),
    also: each.also.map((showing) => showingJson(showing, result)),
  });
  const json: LiveJson = {
    format: 'cavrin/live',
    version: 1,
    app,
    at,
    policy: policy.source.file,
    findings: [
      ...settled.open.map((each) => finding(each, null)),
      ...settled.accepted.map(({ finding: each, because }) => finding(each, because)),
    ],
    walks: result.walks.map(({ walk, driver, steps, cut }) => ({
      ...startOf(walk.input.placeOf(walk.at)),
      name: walk.name,
      driver,
      steps: walk.steps.length,
      played: steps.length,
      cut,
    })),
    notJudged: judged.unjudged.map((each) => ({ ...each })),
    totals: {
      findings: settled.open.length,
      accepted: settled.accepted.length,
      walks: new Set(result.walks.map(({ walk }) => walk)).size,
      steps: judged.steps,
      notPlayed: judged.notPlayed.reduce((sum, { steps }) => sum + steps, 0),
      requests: result.requests,
    },
  };
  return jsonText(json);
}

function showingJson({ walk, step, difference, follow }: Showing, { cut }: LiveResult): ShowingJson {
  const { result, seen } = walk.steps[step] ?? {};
  if (result === undefined || seen === undefined) {
    throw new Error('a difference in a step that was not played');
  }
  const place = walk.walk.input.placeOf(result.step.at.length === 0 ? walk.walk.at : result.step.at);
  return {
    ...startOf(place),
    walk: walk.walk.name,
    step: step + 1,
    action: actionWords(result.step),
    browser: result.step.browser,
    driver: walk.driver,
    differences: difference.aspects.map(({ aspect, policy, app }) => ({ aspect, policy, app: cut(app) })),
    policyMessages: result.played.exchanges.map((exchange) => {
      const { method, target, status, location } = answered(exchange);
      return { method, target, status, location };
    }),
    appMessages: seen.messages.map(({ method, target, status, location }) => ({
      method,
      target: cut(target),
      status,
      location: location === null ? null : cut(location),
    })),
    follow: follow.map((index) => index + 1),
  };
}

/** What differs in one place, as one line. */
function showingLine(
  finding: DescribedFinding,
  { walk, step, difference }: Showing,
  { cut }: LiveResult,
): string {
  const result = walk.steps[step]?.result;
  const asked = result === undefined ? '' : ` (${actionWords(result.step)})`;
  const aspects = difference.aspects.map(
    ({ aspect, policy, app }) => `${aspect} by the policy ${policy}, the app ${cut(app)}`,
  );
  return `${walk.walk.name}, step ${step + 1}${asked}: ${DIFFERENCE_CLASSES[finding.class]}: ${cut(finding.title)}: ${aspects.join('; ')}`;
}

/** What a run found, as a JUnit report: a test case a walk. */
export function liveJUnit({ result, settled, app }: ShownRun): string {
  const walks = [...new Set(result.walks.map(({ walk }) => walk))];
  const cases = walks.map((walk) => {
    const problems = settled.open.flatMap((finding) =>
      [finding.first, ...finding.also]
        .filter((showing) => showing.walk.walk === walk)
        .map((showing) => showingLine(finding, showing, result)),
    );
    const own = result.walks.filter((each) => each.walk === walk);
    const isPlayed = own.some(({ steps }) => steps.length > 0);
    return { walk, problems, skipped: isPlayed ? null : (own[0]?.cut ?? 'it was not played') };
  });
  return junitOf(cases, app);
}

/** What a run found, as diagnostics that point into the policy: what opens more is an error. */
export function liveDiagnostics({ result, settled, policy }: ShownRun): Diagnostic[] {
  return settled.open.map((finding) => {
    const { first, also, at, class: name } = finding;
    const places = [first, ...also].map(({ walk, step }) => {
      const { at: stepAt } = walk.walk.steps[step] ?? walk.walk;
      return {
        place: walk.walk.input.placeOf(stepAt),
        message: `seen in ${walk.walk.name}, step ${step + 1}`,
      };
    });
    return {
      code: `live-${name}`,
      severity: name === 'opens' ? 'error' : 'warning',
      message: `the app ${DIFFERENCE_CLASSES[name]}: ${result.cut(finding.title)}`,
      place: at === null || at.length === 0 ? (places[0]?.place ?? null) : policy.placeOf(at),
      related: places,
      hint:
        finding.describedBy === null
          ? null
          : `this would describe the app: ${result.cut(finding.describedBy.written)}`,
      shownBy: showingLine(finding, first, result),
    };
  });
}
