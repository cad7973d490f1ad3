const ARGS = [
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** How a Chromium is started that asks nobody but the app. */
export function chromiumOptions(program: string, more: readonly string[] = []) {
  return {
    executablePath: program,
    headless: true,
    // Pages are brought back as they were left, as for anybody.
    ignoreDefaultArgs: ['--disable-back-forward-cache'],
    // Chromium has no sandbox for the super-user.
    args: [...(process.getuid?.() === 0 ? ['--no-sandbox'] : []), ...ARGS, ...more],
  };
}
