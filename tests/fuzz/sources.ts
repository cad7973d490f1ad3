import { draftOf, hasErrors, loadProject, sourceOf, type Evidence } from '../../src/core/internal';
import { draftText } from '../../src/render/draft/policy-text';
import { wordedWalksYaml } from '../../src/render/walk-yaml';
import { READERS } from '../support/read-source';
import type { Fuzzer } from './fuzzer';
import { mutated } from './mutated';
import { outputFault } from './texts';

const header = (name: string, value: string) => ({ name, value });
const entry = (
  at: number,
  method: string,
  path: string,
  more: object,
  status: number,
  headers: readonly object[],
) => ({
  startedDateTime: `2026-05-01T10:00:${String(at).padStart(2, '0')}.000Z`,
  _resourceType: 'document',
  request: {
    method,
    url: `https://harbour.example${path}`,
    headers: [header('Cookie', 'sid=a1; theme=dark')],
    ...more,
  },
  response: {
    status,
    headers,
    content: {
      mimeType: 'text/html',
      text: '<form method="post" action="/in"><input name="mail"><input type="password" name="word"></form>',
    },
  },
});
const sent = { postData: { mimeType: 'application/x-www-form-urlencoded', text: 'mail=ines&word=tide-40' } };
const HAR = {
  log: {
    version: '1.2',
    entries: [
      entry(1, 'GET', '/ledger', {}, 302, [header('Location', '/in?next=%2Fledger')]),
      entry(2, 'GET', '/in?next=%2Fledger', {}, 200, []),
      entry(3, 'POST', '/in?next=%2Fledger', sent, 303, [
        header('Location', '/ledger'),
        header('Set-Cookie', 'sid=b2; Path=/; HttpOnly; Secure; SameSite=Lax; Max-Age=1800'),
      ]),
      entry(4, 'GET', '/ledger/17', {}, 200, []),
      entry(5, 'GET', '/office', {}, 403, []),
      entry(6, 'POST', '/out', {}, 302, [header('Location', '/'), header('Set-Cookie', 'sid=; Max-Age=0')]),
      entry(7, 'GET', '/ledger/17', {}, 302, [header('Location', '/in')]),
    ],
  },
};
const OPENAPI = `openapi: 3.1.0
info: { title: Harbour, version: '1' }
servers: [{ url: https://harbour.example/api }]
security: [{ session: [] }]
paths:
  /berths/{number}:
    parameters: [{ name: number, in: path, required: true }]
    get: { responses: { '200': { description: ok }, '401': { description: no } } }
    delete: { security: [{ token: [clerk] }], responses: { '403': { $ref: '#/components/responses/no' } } }
  /tides: { get: { security: [], responses: { '200': { description: ok } } } }
components:
  responses: { no: { description: no } }
  securitySchemes:
    session: { type: apiKey, in: cookie, name: sid }
    token: { type: oauth2, flows: { clientCredentials: { tokenUrl: /oauth/token, scopes: { clerk: a clerk } } } }
`;
const SITEMAP = `<?xml version="1.0" encoding="UTF-8"?>
<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
  <url><loc>https://harbour.example/tides</loc><lastmod>2026-01-01</lastmod></url>
  <url><loc>https://harbour.example/b%C3%BCro?a=1&amp;b=2</loc></url>
</urlset>
`;
const ROUTES = `# ours
GET /ledger  ledger#index
post|put /berths/:id # both
ANY /api/{x}
/tides
GET /files/[...rest]
`;
const BEGINNINGS: Readonly<Record<keyof typeof READERS, string>> = {
  har: JSON.stringify(HAR, null, 1),
  openapi: OPENAPI,
  routes: ROUTES,
  sitemap: SITEMAP,
};

/** What other programs wrote, mutated, up to a draft: it is refused with a line, or drafted as a policy that can be read. */
export function sourceFuzzers(): readonly Fuzzer[] {
  return (Object.keys(READERS) as (keyof typeof READERS)[]).map((kind) => ({
    what: { har: 'recordings', openapi: 'descriptions', routes: 'lists of routes', sitemap: 'sitemaps' }[
      kind
    ],
    often: 1,
    make: (random) => mutated(random, [BEGINNINGS[kind], BEGINNINGS[kind], ...Object.values(BEGINNINGS)]),
    faultOf: (text) => faultOf(kind, text),
  }));
}

async function faultOf(kind: keyof typeof READERS, text: string): Promise<string | null> {
  const found = READERS[kind](text);
  if ('severity' in found) {
    const { message, hint } = found;
    return message === '' || hint === null ? `refused without words: ${found.code}` : null;
  }
  const evidence: Evidence =
    'exchanges' in found
      ? { recordings: [found], descriptions: [] }
      : { recordings: [], descriptions: [found] };
  const draft = draftOf(evidence);
  const policy = draftText(draft, ['a\u202e.txt']);
  const walks = draft.walks.length === 0 ? [] : [sourceOf('walks.yaml', wordedWalksYaml(draft.walks))];
  const { diagnostics } = await loadProject(sourceOf('cavrin.yaml', policy), walks);
  if (hasErrors(diagnostics)) {
    return `drafts what cannot be read: ${diagnostics.map(({ message }) => message).join('; ')}`;
  }
  return outputFault(policy) ?? outputFault(walks[0]?.text ?? '');
}
