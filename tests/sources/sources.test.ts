import fc from 'fast-check';
import { draftOf } from '../../src/core/draft/draft';
import { sourceOf } from '../../src/core/language/text/source';
import { parsePattern } from '../../src/core/paths/pattern';
import { readProject } from '../../src/core/walks/project';
import { draftText } from '../../src/render/draft/policy-text';
import { patternOfTemplate } from '../../src/sources/template';
import { fault, good, READERS, type Reader } from '../support/read-source';

test.each([
  ['/berths/{id}', '/berths/:id'],
  ['/berths/<int:id>/<slug>', '/berths/:id/:slug'],
  ['/berths/[id]/[...rest]', '/berths/:id/**'],
  ['/berths/:id(\\d+)?', '/berths/:id'],
  ['/files/*rest', '/files/**'],
  ['/a/{x}/b/{x}/', '/a/:x/b/:x2'],
  ['/report.{format}', '/*'],
  ['/{1}/{user name}', '/:id/:user-name'],
  ['/a b?x=1#y', '/a%20b'],
  ['/', '/'],
])('the path %s of others is %s', (theirs, ours) => {
  expect(patternOfTemplate(theirs)?.pattern).toBe(ours);
});

test('whatever stands in a path, what is made of it is a pattern or nothing', () => {
  const part = fc.oneof(
    fc.string(),
    fc.constantFrom('{id}', '{id}.json', '<x>', ':id', '*', '**', '[...a]', '{', '}', ':', '%2F'),
  );
  fc.assert(
    fc.property(fc.array(part, { maxLength: 6 }), (parts) => {
      const found = patternOfTemplate(`/${parts.join('/')}`);
      // What a page cannot be is told when the policy is drafted; nothing else may stay of how others write.
      if (found !== null) {
        expect(typeof parsePattern(found.pattern) === 'string' ? found.pattern : '/').not.toMatch(
          /\/:$|\{id\}|<x>/,
        );
      }
    }),
  );
});

describe('a list of routes', () => {
  test('has a method and a path a line', () => {
    const { requests } = good(
      READERS.routes(
        '\uFEFF# ours\nGET /ledger  ledger#index\npost|put /berths/:id # both\n\n/tides\nANY /api/{x}\n',
      ),
    );
    expect(requests.map(({ method, pattern, kind }) => `${method} ${pattern} ${kind}`)).toEqual([
      'GET /ledger page',
      'POST /berths/:id page',
      'PUT /berths/:id page',
      'GET /tides page',
      ...['GET', 'POST', 'PUT', 'PATCH', 'DELETE'].map((method) => `${method} /api/:x api`),
    ]);
  });

  test.each([
    ['GET /a\nledger', 2, 'this line is no route: ledger'],
    ['FETCH /a', 1, 'this line is no route: FETCH /a'],
    ['# nothing\n', 1, 'it has no route'],
  ])('%j is refused with its line', (text, line, message) => {
    expect(fault(READERS.routes(text)).slice(0, 2)).toEqual([line, message]);
  });
});

describe('a sitemap', () => {
  // The example of https://www.sitemaps.org/protocol.html, with an address of another site and one with what images have.
  const EXAMPLE = `<?xml version="1.0" encoding="UTF-8"?>
<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9" xmlns:image="http://www.google.com/schemas/sitemap-image/1.1">
  <url><loc>http://www.example.com/</loc><lastmod>2005-01-01</lastmod><changefreq>monthly</changefreq><priority>0.8</priority></url>
  <url><loc>http://www.example.com/catalog?item=12&amp;desc=vacation_hawaii</loc></url>
  <url><loc><![CDATA[http://www.example.com/tides]]></loc><image:image><image:loc>http://www.example.com/a.png</image:loc></image:image></url>
  <url><loc>http://other.example/x</loc></url>
</urlset>`;

  test('gives pages that are for everyone', () => {
    const { requests, origin, notes } = good(READERS.sitemap(EXAMPLE));
    expect(requests.map(({ pattern, access }) => [pattern, access])).toEqual(
      ['/', '/catalog', '/tides'].map((path) => [path, 'everyone']),
    );
    expect(origin).toBe('http://www.example.com');
    expect(notes).toEqual(['a.xml: 1 addresses of other sites, or that cannot be read, are left out']);
  });

  test.each([
    ['<urlset><url><loc>http://a.example/</loc></url>', /^not valid XML: unclosed tag: urlset/],
    ['<urlset></urlset>', /^it lists no address/],
    ['<html><body>gone</body></html>', /^it lists no address/],
    [
      '<sitemapindex><sitemap><loc>http://a.example/s.xml</loc></sitemap></sitemapindex>',
      /^this is an index of sitemaps/,
    ],
    [
      '<!DOCTYPE u [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><urlset><url><loc>&b;</loc></url></urlset>',
      /declares no types and no entities/,
    ],
    ['', /^not valid XML/],
  ])('%s is refused', (text, message) => {
    expect(fault(READERS.sitemap(text))[1]).toMatch(message);
  });
});

describe('a description in OpenAPI', () => {
  const read = (more: string) => good(READERS.openapi(`openapi: 3.1.0\ninfo: { title: Berths }\n${more}`));

  test('follows references within, and tells of those that lead out', () => {
    const { requests, notes } = read(`
paths:
  /a: { $ref: '#/components/pathItems/A' }
  /b: { $ref: 'other.yaml#/b' }
  /c: { $ref: '#/paths/~1c' }
  /me: { post: { security: [], requestBody: { $ref: '#/components/requestBodies/In' } } }
components:
  pathItems: { A: { get: { responses: { '200': {} } } } }
  requestBodies: { In: { content: { application/json: { schema: { $ref: '#/components/schemas/In' } } } } }
  schemas: { In: { type: object, properties: { mail: {}, password: {} } } }`);
    expect(
      requests.map(({ method, pattern, takesPassword }) => [`${method} ${pattern}`, takesPassword]),
    ).toEqual([
      ['GET /a', false],
      ['POST /me', true],
    ]);
    expect(notes.join('\n')).toMatch(/other\.yaml#\/b is in another file.*bundle/);
    expect(notes.join('\n')).toMatch(/the path \/c cannot be read/);
  });

  test.each([
    // OpenAPI 3.1 §4.8.10: an empty list takes the requirement away; an empty requirement makes it optional.
    ['[]', 'everyone'],
    ['[{}, { k: [] }]', 'everyone'],
    ['[{ k: [] }]', 'signed-in'],
    ['[{ o: [a, b] }, { o: [c] }]', { scopes: [['a', 'b'], ['c']] }],
    ['[{ k: [], o: [a] }]', { scopes: [['a']] }],
    [null, { scopes: [['all']] }],
  ])('the security %s is for %j', (security, access) => {
    const { requests } = read(`
security: [{ o: [all] }]
paths: { /a: { get: { ${security === null ? '' : `security: ${security}`} } } }
components: { securitySchemes: { k: { type: apiKey, in: header, name: X-Key }, o: { type: oauth2, flows: {} } } }`);
    expect(requests[0]?.access).toEqual(access);
  });

  test.each([
    ['{ type: apiKey, in: query, name: k }', { kind: 'key', sent: 'address', name: 'k' }],
    ['{ type: apiKey, in: cookie, name: sid }', { kind: 'cookie', name: 'sid' }],
    ['{ type: http, scheme: Bearer }', { kind: 'key', sent: 'bearer', name: null }],
    [
      '{ type: oauth2, flows: { password: { tokenUrl: /oauth/token } } }',
      { kind: 'tokens', submit: 'POST /oauth/token', refresh: 'POST /oauth/token' },
    ],
    [
      '{ type: oauth2, flows: { implicit: { authorizationUrl: https://id.example/a } } }',
      { kind: 'key', sent: 'bearer', name: null },
    ],
  ])('callers show who they are by %s', (scheme, expected) => {
    const { schemes } = read(`paths: { /a: { get: {} } }\ncomponents: { securitySchemes: { s: ${scheme} } }`);
    expect(schemes).toEqual([expected]);
  });

  test.each([
    ['servers: [{ url: https://api.example/v2/ }]', 'https://api.example', '/v2/a'],
    [
      "servers: [{ url: '{scheme}://{host}/x', variables: { scheme: { default: https }, host: { default: b.example } } }]",
      'https://b.example',
      '/x/a',
    ],
    ["servers: [{ url: 'https://{tenant}.example' }]", null, '/a'],
    ['servers: [{ url: /v1 }]', null, '/v1/a'],
  ])('%s', (servers, origin, pattern) => {
    const found = read(`${servers}\npaths: { /a: { get: {} } }`);
    expect([found.origin, found.requests[0]?.pattern]).toEqual([origin, pattern]);
  });

  test.each([
    ['{"swagger":"2.0","paths":{}}', /Swagger 2\.0/],
    ['openapi: 4.0.0\npaths: { /a: { get: {} } }', /no description in OpenAPI 3\.0 or 3\.1/],
    ['openapi: 3.1.0', /describes no request/],
    ['openapi: 3.1.0\npaths:\n  /a: { get: {}\n', /^not valid YAML/],
    ['{"openapi":"3.1.0","paths":{"/a":{', /^the file ends in the middle/],
    [
      `a: &a [x]\n${Array.from({ length: 30 }, (_, at) => `b${at}: &b${at} [*${at === 0 ? 'a' : `b${at - 1}`}, *${at === 0 ? 'a' : `b${at - 1}`}]`).join('\n')}`,
      /nests too deep, or repeats itself/,
    ],
  ])('%# is refused', (text, message) => {
    expect(fault(READERS.openapi(text))[1]).toMatch(message);
  });
});

test('no reader falls over what anybody writes', () => {
  const pieces = fc.constantFrom(
    '{',
    '}',
    '[',
    ']',
    '"',
    ':',
    ',',
    '<',
    '>',
    'openapi: 3.1.0\n',
    'paths:',
    '/a',
    'GET ',
    '{"log":{"entries":[',
    'urlset',
    '&x;',
    '__proto__',
    '\n',
    ' ',
    '\u0000',
    '*a',
    '&a',
  );
  const text = fc.oneof(
    fc.string(),
    fc.json(),
    fc.array(pieces, { maxLength: 30 }).map((all) => all.join('')),
  );
  fc.assert(
    fc.property(fc.constantFrom(...Object.values(READERS)), text, (reader: Reader, each) => {
      const found = reader(each);
      expect('severity' in found ? found.message : found.from).not.toBe('');
    }),
    { numRuns: 600 },
  );
});

test('a path of many brackets can be read again where it is drafted', () => {
  const routes = good(READERS.routes(`GET /fil${'['.repeat(90)}es\n`));
  const text = draftText(draftOf({ recordings: [], descriptions: [routes] }), ['a.txt']);
  expect(readProject(sourceOf('cavrin.yaml', text), []).policy).not.toBeNull();
});

test.each([
  ['cookie', 'sid sid', 'sid sid is no usable name for a cookie'],
  ['header', 'X Key', 'X Key is no usable name of a header'],
  ['query', 'the key', 'the key is no usable parameter'],
])('a draft leaves out a key in a %s that is called %s, and tells it', (place, name, told) => {
  const described = good(
    READERS.openapi(
      JSON.stringify({
        openapi: '3.1.0',
        info: { title: 'Harbour', version: '1' },
        paths: { '/tides': { get: { responses: {} } } },
        security: [{ own: [] }],
        components: { securitySchemes: { own: { type: 'apiKey', in: place, name } } },
      }),
    ),
  );
  const draft = draftOf({ recordings: [], descriptions: [described] });
  expect(draft.notes).toContainEqual(expect.stringContaining(told));
  expect(JSON.stringify(draft.sections)).not.toContain(name);
});
