// Loaded before the program: ends it by SIGKILL in the middle of the write number KILL_AT, or tells on exit how many there were.
const fs = require('node:fs');
const { syncBuiltinESMExports } = require('node:module');
const process = require('node:process');

let writes = 0;
const kill = () => process.kill(process.pid, 'SIGKILL');
for (const name of ['writeFileSync', 'renameSync', 'linkSync', 'mkdirSync']) {
  const real = fs[name];
  fs[name] = (...args) => {
    writes += 1;
    if (String(writes) !== process.env.KILL_AT) return real(...args);
    if (name === 'writeFileSync')
      real(args[0], String(args[1]).slice(0, String(args[1]).length / 2), args[2]);
    return kill();
  };
}
syncBuiltinESMExports();
