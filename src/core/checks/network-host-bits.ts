import { parseNetwork } from '../http/client-address.js';
import { check } from './check.js';

/** A network is written with nothing beyond its prefix. */
export const networkHostBits = check<{ text: string; address: string; prefix: number }>({
  meta: {
    code: 'network-host-bits',
    severity: 'warning',
    title: 'A network is written with nothing beyond its prefix.',
    why: 'Bits behind the prefix count for nothing: the network may be far larger than whoever wrote it believes.',
    cwe: 'CWE-1389',
    mend: 'Write the first address of the network that is meant, or a longer prefix.',
  },
  *find({ policy: { rules } }) {
    for (const rule of rules) {
      for (const [index, network] of (rule.conditions.from ?? []).entries()) {
        const { text, bits, prefix } = network;
        const [address = ''] = text.split('/');
        if (parseNetwork(address)?.bits === bits) continue;
        yield { at: [...rule.at, 'from', index], params: { text, address, prefix } };
      }
    }
  },
  message: ({ text, address, prefix }) =>
    `${text} is every address that shares the first ${prefix} bits of ${address}: what stands behind them counts for nothing`,
});
