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
    // A run ends its browsers itself, and puts away what they have written.
    handleSIGINT: false,
    handleSIGTERM: false,
    handleSIGHUP: false,
    // Pages are brought back as they were left, as for anybody.
    ignoreDefaultArgs: ['--disable-back-forward-cache'],
    // Chromium has no sandbox for the super-user.
    args: [...(process.getuid?.() === 0 ? ['--no-sandbox'] : []), ...ARGS, ...more],
  };
}

/** Everything goes by a proxy, what is for this machine too: names are not looked up, and nothing goes round it by UDP. */
export function onlyBy({ port }: { readonly port: number }): string[] {
  return [
    `--proxy-server=socks5://127.0.0.1:${port}`,
    '--proxy-bypass-list=<-loopback>',
    '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1',
    '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
    '--webrtc-ip-handling-policy=disable_non_proxied_udp',
  ];
}
