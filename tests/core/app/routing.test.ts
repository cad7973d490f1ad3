import fc from 'fast-check';
import { meets, RuleIndex } from '../../../src/core/app/rule-index';
import {
  addressOutside,
  inNetwork,
  isWithin,
  parseNetwork,
  type ClientNetwork,
} from '../../../src/core/http/client-address';
import { METHODS } from '../../../src/core/http/messages';
import { matches, segmentsOf } from '../../../src/core/paths/pattern';
import { policyText, project } from '../../support/policies';

test('the index finds the rules that trying every pattern finds, in the same order', () => {
  const piece = fc.constantFrom('a', 'b', '*', ':x');
  const written = fc
    .tuple(fc.array(piece, { maxLength: 3 }), fc.boolean())
    .map(([parts, tail]) => `/${[...new Set(parts), ...(tail ? ['**'] : [])].join('/')}`);
  const path = fc
    .array(fc.constantFrom('a', 'b', 'c'), { maxLength: 4 })
    .map((parts) => `/${parts.join('/')}`);
  fc.assert(
    fc.property(fc.array(written, { minLength: 1, maxLength: 8 }), path, (paths, address) => {
      const text = `rules: [${paths.map((each) => `{ path: "${each}", for: clerk }`).join(', ')}]`;
      const { policy } = project(policyText({ rules: text }));
      const rules = policy?.rules ?? [];
      const tried = rules.filter((rule) => rule.patterns.some((each) => matches(each, segmentsOf(address))));
      expect(new RuleIndex(rules, (pattern) => pattern).matching(address, segmentsOf(address))).toEqual(
        tried,
      );
    }),
    { numRuns: 200 },
  );
});

test('a rule meets a request only where each of its conditions does', () => {
  const conditions = { methods: ['GET'], hosts: ['a.example'], from: [network('10.0.0.0/8')] } as const;
  const request = { method: 'GET', host: 'a.example', client: '10.9.8.7' } as const;
  expect(meets(conditions, request)).toBe(true);
  for (const other of [{ method: METHODS[3] }, { host: 'b.example' }, { client: '11.0.0.1' }]) {
    expect(meets(conditions, { ...request, ...other })).toBe(false);
  }
});

describe('client networks', () => {
  test.each([
    ['10.0.0.0/8', '10.255.255.255', true],
    ['10.0.0.0/8', '11.0.0.0', false],
    ['192.0.2.7', '192.0.2.7', true],
    ['0.0.0.0/0', '203.0.113.7', true],
    ['0.0.0.0/0', '2001:db8::1', false],
    ['2001:db8::/32', '2001:0DB8:ffff::', true],
    ['2001:db8::/32', '2001:db9::', false],
    ['::/0', '::', true],
  ])('%s has %s: %s (RFC 4632 §3.1, RFC 4291 §2.3)', (text, client, expected) => {
    expect(inNetwork(network(text), client)).toBe(expected);
  });

  test.each([
    '10.0.0/8',
    '10.0.0.256',
    '010.0.0.1',
    '10.0.0.0/33',
    '10.0.0.0/8/8',
    '::1::',
    '1:2:3:4:5:6:7:8:9',
    'x',
    '',
  ])('%s is no network', (text) => {
    expect(parseNetwork(text)).toBeNull();
  });

  test('an address outside of some networks is in the one and in none of the others', () => {
    const any = fc
      .tuple(fc.integer({ min: 0, max: 255 }), fc.integer({ min: 0, max: 4 }))
      .map(([last, bits]) => network(`10.0.0.${last}/${32 - bits}`));
    fc.assert(
      fc.property(any, fc.array(any, { maxLength: 20 }), (whole, others) => {
        const found = addressOutside(
          whole,
          others.filter((other) => isWithin(other, whole)),
        );
        const all = Array.from({ length: 256 }, (_, last) => `10.0.0.${last}`);
        const free = all.filter(
          (each) =>
            inNetwork(whole, each) &&
            !others.some((other) => isWithin(other, whole) && inNetwork(other, each)),
        );
        expect(found === null ? free : free.includes(found)).toEqual(found === null ? [] : true);
      }),
    );
  });
});

function network(text: string): ClientNetwork {
  const parsed = parseNetwork(text);
  if (parsed === null) throw new Error(text);
  return parsed;
}
