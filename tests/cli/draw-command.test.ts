import { Graphviz } from '@hpcc-js/wasm-graphviz';
import { XMLParser } from 'fast-xml-parser';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { EXAMPLES, HARBOUR, policyText } from '../support/policies';
import { Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

const POLICY = join(HARBOUR, 'cavrin.yaml');

/** The texts of an SVG, in their order. */
function textsOf(svg: string): string[] {
  const found: string[] = [];
  const walk = (node: unknown, isText: boolean) => {
    if (Array.isArray(node)) for (const each of node as unknown[]) walk(each, isText);
    else if (typeof node === 'object' && node !== null) {
      for (const [key, value] of Object.entries(node)) {
        if (key === '#text' && isText) found.push(String(value));
        else if (key !== ':@') walk(value, isText || key === 'text');
      }
    }
  };
  walk(new XMLParser({ preserveOrder: true, htmlEntities: true }).parse(svg), false);
  return found;
}

test.each([
  ['landings', ['dockmaster', '/berths', '/ledger', '403', 'refused', 'sign-up']],
  ['states', ['code owed', 'locked out', '5 wrong passwords', '1h (session.idle)', '(a guest to the app)']],
  ['grid', ['/quay-screen', '→ /sign-in', 'shown', '403', 'harbourmaster']],
])('%s is an SVG that says what it shows', (picture, words) => {
  const { status, out, err } = place.run(['draw', picture, POLICY]);
  expect([status, err]).toEqual([0, '']);
  const texts = textsOf(out);
  for (const each of words) expect(texts).toContain(each);
});

test('lives has a bar for each limit and each exposure, with its length in words', () => {
  place.put('cavrin.yaml', policyText());
  const texts = textsOf(place.run(['draw', 'lives']).out);
  for (const each of [
    'session.idle',
    '30m',
    'session cookie, after the copy',
    '8h',
    'opens nothing',
    '1 year',
  ]) {
    expect(texts).toContain(each);
  }
  expect(textsOf(place.run(['draw', 'lives', '--no-proof']).out)).not.toContain('opens nothing');
});

test('a walk has a lane for each browser, and the life of what each holds', () => {
  const texts = textsOf(place.run(['draw', 'walk', 'copied session opens', POLICY]).out);
  for (const each of ['browser', 'thief', 'login petra', 'thief: session cookie', 'logout']) {
    expect(texts).toContain(each);
  }
});

test('graphs can be had as DOT, which Graphviz reads, and as Mermaid', async () => {
  const { out } = place.run(['draw', 'states', POLICY, '--format', 'dot']);
  const graphviz = await Graphviz.load();
  const read = JSON.parse(graphviz.layout(out, 'dot_json')) as {
    objects: { label: string }[];
    edges: unknown[];
  };
  expect(read.objects.map(({ label }) => label)).toContain('remembered, session over');
  expect(read.edges.length).toBeGreaterThan(10);
  expect(place.run(['draw', 'states', POLICY, '--output', 'states.mmd']).status).toBe(0);
  expect(readFileSync(join(place.folder, 'states.mmd'), 'utf8')).toMatch(
    /^flowchart LR$[^]*^ {2}n0\("guest"\)$[^]*^ {2}n0 -->\|"login of who owes no code"\| n1$/m,
  );
});

test('of several logins it is told where each lands, and whom a barrier stops alike is one', () => {
  const { out } = place.run([
    'draw',
    'landings',
    join(EXAMPLES, 'fennel-row', 'cavrin.yaml'),
    '--format',
    'mermaid',
  ]);
  expect(out).toMatch(/"login at \/desk\/sign-in<br>login page again"/);
  expect(out).toContain('(["guest, gardener, steward, printer, without a role closed-on"])');
});

test('a PNG has the size of the picture, twice over', () => {
  expect(place.run(['draw', 'grid', POLICY, '--output', 'grid.png']).status).toBe(0);
  const png = readFileSync(join(place.folder, 'grid.png'));
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  const svg = place.run(['draw', 'grid', POLICY]).out;
  expect(png.readUInt32BE(16)).toBe(Number(/width="(\d+)"/.exec(svg)?.[1]) * 2);
});

test('names are text in every picture, whatever they hold', async () => {
  const evil = '</text><script>alert(1)</script>\\N" & x';
  const path = '/"<script>&\'';
  place.put(
    'cavrin.yaml',
    policyText({
      pages: `pages: { /: { for: everyone }, /in: { for: guests }, /desk: {}, /safe: {}, ${JSON.stringify(path)}: { for: [clerk] } }`,
      landing: `landing: [{ role: clerk, to: ${JSON.stringify(path)} }, { otherwise: / }]`,
    }).replace('app: Test', `app: ${JSON.stringify(evil)}`),
  );
  const step = `{ visit: ${JSON.stringify(path)} }`;
  place.put('walks.yaml', `walks: [{ name: ${JSON.stringify(evil)}, steps: [{ login: ann }, ${step}] }]`);
  for (const words of [['landings'], ['states'], ['grid'], ['lives', '--no-proof'], ['walk', evil]]) {
    const { status, out } = place.run(['draw', ...words]);
    expect([words, status]).toEqual([words, 0]);
    expect(textsOf(out).join(' ')).not.toBe('');
    expect(out).not.toContain('<script');
    // What draws the PNG reads XML strictly.
    expect(place.run(['draw', ...words, '--output', 'x.png']).status).toBe(0);
  }
  expect(textsOf(place.run(['draw', 'landings']).out).join()).toContain('%3Cscript%3E&');
  const dot = place.run(['draw', 'landings', '--format', 'dot']).out;
  const graphviz = await Graphviz.load();
  expect(graphviz.layout(dot, 'svg')).not.toContain('<script');
  expect(place.run(['draw', 'landings', '--format', 'mermaid']).out).not.toMatch(/<script|<\/text/);
});

test.each([
  [['draw', 'walk'], 'which walk?'],
  [['draw', 'walk', 'the', POLICY], 'walks have the in their name'],
  [['draw', 'walk', 'nothing like it', POLICY], 'nothing like it'],
  [['draw', 'grid', POLICY, '--format', 'dot'], 'grid is no graph, and has no form dot'],
  [['draw', 'map'], 'Allowed choices are landings, states, lives, grid, walk'],
  [['draw', 'grid', 'nowhere.yaml'], 'there is no file nowhere.yaml'],
])('%j is refused', (args, said) => {
  const refused = place.run(args);
  expect(refused).toMatchObject({ status: 2, out: '', err: expect.stringContaining(said) as string });
});
