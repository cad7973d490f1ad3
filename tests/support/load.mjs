// A load of many people at once, in a process of its own: each logs in, calls, refreshes, races a refresh, and leaves.
// Usage: node load.mjs ADDRESS PEOPLE AT_ONCE [SECRET]. It prints what it saw as JSON. With the secret of the server it is
// reset again and again: then people may be refused anything, but must never be taken for somebody else.
import { Agent, request } from 'node:http';
import { clearInterval, setInterval } from 'node:timers';

const [address, people, atOnce] = [process.argv[2], Number(process.argv[3]), Number(process.argv[4])];
const secret = process.argv[5];
const { hostname: host, port } = new URL(address);
const agent = new Agent({ keepAlive: true, maxSockets: atOnce });
const seen = { requests: 0, wrong: [], winners: 0, racers: 0, sessions: new Set(), tokens: new Set() };

function ask(method, path, headers = {}, body = '') {
  seen.requests += 1;
  return new Promise((settle, fail) => {
    const sent = request(
      { host, port, method, path, headers: { accept: 'application/json', ...headers }, agent },
      (answer) => {
        let text = '';
        answer.on('data', (part) => (text += part));
        answer.on('end', () => settle({ status: answer.statusCode, headers: answer.headers, text }));
      },
    );
    sent.on('error', fail);
    sent.end(body);
  });
}

const post = (path, fields, headers) =>
  ask(
    'POST',
    path,
    { 'content-type': 'application/x-www-form-urlencoded', ...headers },
    new URLSearchParams(fields).toString(),
  );

function hold(what, is, should) {
  if (is !== should) seen.wrong.push(`${what}: ${is} instead of ${should}`);
}

async function person(number) {
  const name = `p${number % 50}`;
  const login = await post('/in', { account: name, password: 'x' });
  hold('login', login.status, 200);
  const cookie = login.headers['set-cookie'][0].split(';')[0];
  if (seen.sessions.has(cookie)) seen.wrong.push('a session id given twice');
  seen.sessions.add(cookie);
  let tokens = JSON.parse(login.text);
  const mine = async (token) => {
    const answer = await ask('GET', '/api/me', { authorization: `Bearer ${token}` });
    hold('call', answer.status, 200);
    hold('whose call', JSON.parse(answer.text).for, name);
  };
  await mine(tokens.access_token);
  const page = await ask('GET', '/hall', { cookie });
  hold('page', page.status, 200);
  hold('whose page', JSON.parse(page.text).for, name);
  const refresh = (token) => post('/oauth/token', { grant_type: 'refresh_token', refresh_token: token });
  const renewed = await refresh(tokens.refresh_token);
  hold('refresh', renewed.status, 200);
  tokens = JSON.parse(renewed.text);
  if (seen.tokens.has(tokens.refresh_token)) seen.wrong.push('a refresh token given twice');
  seen.tokens.add(tokens.refresh_token);
  await mine(tokens.access_token);
  // Four at once with one token: one wins, and its reuse ends the family for the others.
  const racers = await Promise.all([1, 2, 3, 4].map(() => refresh(tokens.refresh_token)));
  seen.racers += 1;
  seen.winners += racers.filter(({ status }) => status === 200).length;
  hold('losers', racers.filter(({ status }) => status === 400).length, 3);
  hold('logout', (await post('/out', {}, { cookie })).status, 303);
  hold('page after logout', (await ask('GET', '/hall', { cookie })).status, 302);
}

/** Somebody who goes on whatever is refused, and looks for whom they are taken. */
async function unsettled(number) {
  const name = `p${number % 50}`;
  const login = await post('/in', { account: name, password: 'x' });
  if (login.status !== 200) return;
  const cookie = login.headers['set-cookie'][0].split(';')[0];
  const { access_token: token, refresh_token } = JSON.parse(login.text);
  const answers = await Promise.all([
    ask('GET', '/api/me', { authorization: `Bearer ${token}` }),
    ask('GET', '/hall', { cookie }),
    post('/oauth/token', { grant_type: 'refresh_token', refresh_token }),
  ]);
  const renewed = answers[2].status === 200 ? JSON.parse(answers[2].text).access_token : token;
  answers.push(await ask('GET', '/api/me', { authorization: `Bearer ${renewed}` }));
  for (const { status, text } of answers) {
    if (status >= 500) seen.wrong.push(`answered ${status}`);
    const whose = status === 200 ? JSON.parse(text).for : undefined;
    if (whose !== undefined && whose !== null) hold('whose', whose, name);
    if (whose === name) seen.served = (seen.served ?? 0) + 1;
  }
}

let next = 0;
async function worker() {
  while (next < people) await (secret === undefined ? person : unsettled)(next++);
}
const resets = setInterval(() => {
  if (secret !== undefined) void post('/-/reset', {}, { authorization: `Bearer ${secret}` });
}, 250);
await Promise.all(Array.from({ length: atOnce }, worker));
clearInterval(resets);
agent.destroy();
process.stdout.write(
  JSON.stringify({
    ...seen,
    sessions: seen.sessions.size,
    tokens: seen.tokens.size,
    wrong: seen.wrong.slice(0, 20),
  }),
);
