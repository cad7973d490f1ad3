// The made-up people of all three apps, and what somebody with access to an app may do to them while it runs.

/** Accounts by name: password, roles, and whether they may sign in. */
export const people = new Map([
  ['ada', { password: 'a-1', roles: ['reader'], active: true }],
  ['ben', { password: 'b-2', roles: ['reader', 'clerk'], active: true }],
  ['cal', { password: 'c-3', roles: ['reader', 'clerk', 'chief'], active: true }],
]);

// Whoever runs the app as a child process may tell it what an administrator does.
process.on('message', ({ deed, account, roles, password }) => {
  const person = people.get(account);
  if (person === undefined) return;
  if (deed === 'suspend') person.active = false;
  if (deed === 'delete-account') people.delete(account);
  if (deed === 'set-roles') person.roles = roles;
  if (deed === 'set-password') person.password = password;
});

/** Somebody by name and password who may sign in; null for nobody. */
export function personWith(account, password) {
  const person = people.get(account);
  return person?.active && person.password === password ? { name: account, ...person } : null;
}

/** Text with nothing in it that HTML would read. */
export function escaped(text) {
  return String(text).replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);
}
