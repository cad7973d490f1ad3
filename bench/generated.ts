// Policies of any size for the benchmarks: the same shape each time, so that two runs measure the same.

/** A policy text with so many pages, rules and roles; a dozen audiences, whatever the number of pages. */
export function generatedPolicy(pages: number, rules: number, roles: number): string {
  const role = (at: number) => `role-${at % roles}`;
  const audience = (at: number) => ['signed-in', `[${role(at)}]`, `[${role(at)}, ${role(at + 1)}]`][at % 3];
  return [
    'cavrin: 1',
    'app: Generated',
    'origin: https://harbour.example',
    'roles:',
    ...range(roles, (at) => `  role-${at}: []`),
    'accounts:',
    ...range(roles, (at) => `  person-${at}: { password: p-${at}, roles: [role-${at}] }`),
    'pages:',
    '  /: { for: everyone }',
    '  /sign-in: { for: guests }',
    ...range(pages, (at) => {
      const own = at % 7 === 0 ? '{}' : `{ for: ${audience(at % 24)} }`;
      return `  /part-${at % 97}/area-${at}/:id: ${own}`;
    }),
    'rules:',
    ...range(rules, (at) => `  - { path: /part-${at % 97}/area-${at * 7}/**, for: [${role(at)}] }`),
    '  - { path: /**, for: signed-in }',
    'login: { page: /sign-in, submit: POST /sign-in, attempts: { most: 5, within: 15m, pause: 15m } }',
    'landing: [{ otherwise: / }]',
    'logout: { submit: POST /sign-out }',
    'session: { idle: 30m, absolute: 8h }',
    '',
  ].join('\n');
}

function range(count: number, line: (at: number) => string): string[] {
  return Array.from({ length: count }, (_, at) => line(at));
}
