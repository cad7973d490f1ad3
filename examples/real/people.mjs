// The made-up people of all three apps, in a file that administer.mjs changes while an app runs.
import { readFileSync, writeFileSync } from 'node:fs';
import { fileAt } from './file-of-people.mjs';

/** Accounts by name: password, or for a machine the keys that it was given, roles, and whether they may sign in. */
const FIRST = {
  ada: { password: 'a-1', roles: ['reader'], active: true },
  ben: { password: 'b-2', roles: ['reader', 'clerk'], active: true },
  cal: { password: 'c-3', roles: ['reader', 'clerk', 'chief'], active: true },
  scanner: { keys: [], roles: ['scanner'], active: true },
};

const file = fileAt(process.env.PORT ?? '0');
writeFileSync(file, JSON.stringify(FIRST));

/** What the file says now. */
export const people = { get: (name) => new Map(Object.entries(JSON.parse(readFileSync(file, 'utf8')))).get(name) };

/** Which mistakes are switched on, to see whether they are found; none as a rule. */
export const hasBug = (name) => (process.env.BUG ?? '').split(',').includes(name);

/** Somebody by name and password who may sign in; null for nobody. */
export function personWith(account, password) {
  const person = people.get(account);
  return person?.active && person.password === password ? { name: account, ...person } : null;
}

/** Text with nothing in it that HTML would read. */
export function escaped(text) {
  return String(text).replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);
}
