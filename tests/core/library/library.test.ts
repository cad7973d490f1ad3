import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { openPolicy, type OpenPolicy } from '../../../src/core/index';
import { EXAMPLES } from '../../support/policies';

const open = (name: string): Promise<OpenPolicy> =>
  openPolicy(readFileSync(join(EXAMPLES, name, 'cavrin.yaml'), 'utf8'));

const PAGES = [
  '/',
  '/sign-in',
  '/loans',
  '/terms',
  '/me',
  '/desk',
  '/welcome',
  '/gardens',
  '/gardens/orchard',
];
const APIS = ['/api/labels', '/api/gardens/riverside/beds', '/api/gardens/orchard/beds'];

test.each(['nell', 'olu', 'piet', 'rosa', 'label', null])(
  'a server is told of %s what the app does with them',
  async (account) => {
    const policy = await open('fennel-row');
    for (const method of ['GET', 'POST'] as const) {
      for (const address of [...PAGES, ...APIS]) {
        // What the app does of its own at an address is more than whom it is for.
        if (method === 'POST' && address === '/sign-in') continue;
        const visitor = account === null ? null : { account, loggedInFor: account === 'label' ? null : 0 };
        const { admitted, reason, decidedBy } = policy.admits({ method, address }, visitor);
        const explained = policy.explain(`${method} ${address}`, account === null ? {} : { as: account });
        const of = `${method} ${address}`;
        expect({ of, admitted, reason, decidedBy }).toEqual({
          of,
          admitted: explained.admitted,
          reason: explained.reason,
          decidedBy: explained.decidedBy,
        });
      }
    }
  },
);

test('barriers and acting come before whom a page is for', async () => {
  const policy = await open('fennel-row');
  expect(policy.admits('GET /gardens', { account: 'piet' })).toMatchObject({
    admitted: false,
    reason: 'barrier',
  });
  expect(policy.admits('GET /me', { account: 'nell' })).toMatchObject({ admitted: true });
  expect(policy.admits('GET /me', { account: 'nell', actedBy: 'rosa' })).toMatchObject({ reason: 'acting' });
  expect(policy.explain('GET /me', { as: 'rosa', state: 'acting' })).toMatchObject({
    admitted: false,
    reason: 'acting',
    seenAs: 'nell',
    actedBy: 'rosa',
  });
});
