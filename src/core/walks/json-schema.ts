import * as z from 'zod';
import { policySchema } from '../language/policy-schema.js';
import { walkFileSchema, walksSchema } from './walk-schema.js';

/** What the sections of a policy are for, for editors that show it. */
const SECTIONS: Readonly<Record<string, string>> = {
  cavrin: 'The version of the language.',
  app: 'A name for reports.',
  origin: 'Scheme, host and port at which browsers find the app.',
  roles: 'Each role with the list of roles that it includes.',
  accounts: 'Made-up people, for walks and the grid.',
  pages: 'What exists: paths, each with its audience. The most specific path counts.',
  rules: 'An ordered list; the first that matches an address decides.',
  otherwise: 'The audience where neither page nor rule says.',
  barriers: 'What comes before everything else, in order.',
  hosts: 'Further hosts at which the app answers.',
  flags: 'Switches of the app as a whole, and how they stand at first.',
  refusals: 'What somebody gets at a page that is not for them.',
  login: 'How people log in, and where a refused attempt leads.',
  landing: 'Where people land after a login or a sign-up; the first entry that is for them decides.',
  'sign-up': 'How people make an account.',
  confirm: 'How a new account is confirmed by a link.',
  'second-factor': 'The one-time code that some accounts and pages ask for.',
  logout: 'How people log out, and what that ends.',
  session: 'How long a session lasts, and its cookie.',
  tokens: 'How long tokens last, and how they are refreshed.',
  proxy: 'What stands before the app.',
  'back-button': 'Whether browsers may keep protected pages.',
  menu: 'The links that pages show.',
  accepted: 'Findings of cavrin check that are known and kept, each with a reason.',
  walks: 'Sequences of steps, with what must be seen after each.',
};

type JsonSchema = Record<string, unknown>;

/** The JSON Schema (draft 2020-12) of a policy file or of a file of walks, for editors. */
export function jsonSchemaOf(file: 'policy' | 'walks'): JsonSchema {
  const schema = file === 'policy' ? policySchema.extend({ walks: walksSchema.optional() }) : walkFileSchema;
  const written = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' });
  const properties = Object.entries(written.properties ?? {}).map(([key, value]): [string, unknown] => [
    key,
    file === 'policy' && typeof value === 'object' ? { description: SECTIONS[key], ...value } : value,
  ]);
  const title = file === 'policy' ? 'A policy of Cavrin' : 'Walks of Cavrin';
  return { ...written, title, properties: Object.fromEntries(properties) };
}
