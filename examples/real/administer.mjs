// What somebody with access to an app does to its people: node administer.mjs 4101 set-roles ada reader,clerk
import { randomBytes } from 'node:crypto';
import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { fileAt } from './file-of-people.mjs';

const [port, deed, account, value = ''] = process.argv.slice(2);
const file = fileAt(port);
const people = JSON.parse(readFileSync(file, 'utf8'));
const person = people[account];
if (person === undefined) throw new Error(`nobody is called ${account}`);
if (deed === 'suspend') person.active = false;
else if (deed === 'delete-account') delete people[account];
else if (deed === 'set-roles') person.roles = value.split(',').filter((role) => role !== '');
else if (deed === 'set-password') person.password = value;
else if (deed === 'rotate-key') {
  person.keys.push(randomBytes(16).toString('hex'));
  console.log(person.keys.at(-1));
} else if (deed === 'revoke-key') person.keys = [];
else throw new Error(`there is no deed ${deed}`);
// The app never reads half a file.
writeFileSync(`${file}.new`, JSON.stringify(people));
renameSync(`${file}.new`, file);
