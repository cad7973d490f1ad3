import { check } from './check.js';

/** No host opens everything. */
export const hostOpensEverything = check<{ rule: number; host: string }>({
  meta: {
    code: 'host-opens-everything',
    severity: 'warning',
    title: 'No host opens everything.',
    why: 'The Host header is what the visitor sends. A rule that opens every address for a host opens it to whoever writes that name, unless something before the app makes sure of it.',
    cwe: 'CWE-290',
    mend: 'Open just the paths that the host is there for.',
  },
  *find(facts) {
    for (const rule of facts.policy.rules) {
      const { hosts } = rule.conditions;
      const isAll = rule.patterns.some(({ tail, segments }) => tail && segments.length === 0);
      const isOpen = [rule.audiences.read, rule.audiences.write].some(
        (stated) => stated !== null && facts.admits(stated.audience, facts.guest),
      );
      if (hosts === null || !isAll || !isOpen) continue;
      yield {
        at: rule.at,
        params: { rule: rule.number, host: hosts.join(', ') },
        shownBy: facts.shownBy('GET', '/', `a guest who writes Host: ${hosts[0] ?? ''}`),
      };
    }
  },
  message: ({ rule, host }) => `rule ${rule} opens every address to whoever names the host ${host}`,
});
