import * as z from 'zod';

/** Where something stands, counted from 1; null for what stands in no file. */
const place = z.strictObject({ file: z.string(), line: z.int(), column: z.int() });

/** A diagnostic, as `cavrin check` and bad input give it. */
const finding = z.strictObject({
  code: z.string(),
  severity: z.enum(['error', 'warning', 'advice']),
  message: z.string(),
  place: place.extend({ endLine: z.int(), endColumn: z.int() }).nullable(),
  related: z.array(place.extend({ message: z.string() })),
  hint: z.string().nullable(),
  /** What would show it: the request, by whom, and the answer. */
  shownBy: z.string().nullable(),
  /** For what a check found: its law, why it matters, and the weakness it is an instance of. */
  check: z.strictObject({ title: z.string(), why: z.string(), cwe: z.string().nullable() }).nullable(),
});

/** `cavrin check --format json`. */
export const findingsFormat = z.strictObject({
  format: z.literal('cavrin/findings'),
  version: z.literal(1),
  findings: z.array(finding),
  totals: z.strictObject({ errors: z.int(), warnings: z.int(), advice: z.int() }),
});
export type FindingsJson = z.infer<typeof findingsFormat>;

const exchange = z.strictObject({
  /** navigate, login, call, refresh or machine. */
  purpose: z.string(),
  method: z.string(),
  target: z.string(),
  status: z.int(),
  location: z.string().nullable(),
  seenAs: z.string(),
  actedBy: z.string().nullable(),
  why: z.string(),
});

const step = z.strictObject({
  ...place.shape,
  named: z.string().nullable(),
  browser: z.string(),
  action: z.string(),
  /** Seconds on the virtual clock after the step. */
  time: z.int(),
  lands: z.string().nullable(),
  status: z.int().nullable(),
  seenAs: z.string().nullable(),
  /** Who acts for that account; null where nobody does. */
  actedBy: z.string().nullable(),
  /** The name of the barrier that stopped the visitor; null where none did. */
  barrier: z.string().nullable(),
  why: z.string().nullable(),
  decidedBy: place.nullable(),
  via: z.array(z.string()),
  session: z.enum(['live', 'none']),
  refreshes: z.int(),
  exchanges: z.array(exchange),
  differences: z.array(z.strictObject({ key: z.string(), expected: z.string(), actual: z.string() })),
  /** The laws that it breaks without the walk saying so. */
  broken: z.array(
    z.strictObject({
      law: z.string(),
      weight: z.enum(['law', 'advice']),
      seen: z.string(),
      allowedBy: place.nullable(),
      /** What would mend it, and what to write where it is known and kept. */
      mend: z.string(),
      own: z.string(),
    }),
  ),
  /** What the browser has. */
  holds: z.array(z.string()),
  /** Why the step could not be played; null where it could. */
  impossible: z.string().nullable(),
});

/** `cavrin walk --format json`. */
export const walksFormat = z.strictObject({
  format: z.literal('cavrin/walks'),
  version: z.literal(1),
  app: z.string(),
  policy: z.string(),
  walks: z.array(
    z.strictObject({ ...place.shape, name: z.string(), passed: z.boolean(), steps: z.array(step) }),
  ),
  totals: z.strictObject({ walks: z.int(), steps: z.int(), failed: z.int() }),
});
export type WalksJson = z.infer<typeof walksFormat>;

/** `cavrin grid --format json`. */
export const gridFormat = z.strictObject({
  format: z.literal('cavrin/grid'),
  version: z.literal(1),
  app: z.string(),
  policy: z.string(),
  method: z.string(),
  by: z.enum(['accounts', 'roles']),
  states: z.array(
    z.strictObject({ name: z.string(), condition: z.string().nullable(), alike: z.array(z.string()) }),
  ),
  rows: z.array(z.strictObject({ page: z.string(), cells: z.array(z.string()) })),
});
export type GridJson = z.infer<typeof gridFormat>;

/** `cavrin grid --against <file> --format json`. */
export const comparisonFormat = z.strictObject({
  format: z.literal('cavrin/grid-comparison'),
  version: z.literal(2),
  table: z.string(),
  compared: z.int(),
  differences: z.array(
    z.strictObject({
      page: z.string().nullable(),
      state: z.string().nullable(),
      agreed: z.string(),
      actual: z.string(),
    }),
  ),
});
export type ComparisonJson = z.infer<typeof comparisonFormat>;

/** `cavrin why --format json`. */
export const whyFormat = z.strictObject({
  format: z.literal('cavrin/why'),
  version: z.literal(1),
  policy: z.string(),
  method: z.string(),
  address: z.string(),
  state: z.string(),
  page: z.strictObject({ path: z.string(), line: z.int() }).nullable(),
  rules: z.array(
    z.strictObject({
      number: z.int(),
      line: z.int(),
      matches: z.boolean(),
      because: z.string().nullable(),
    }),
  ),
  audience: z.strictObject({ words: z.string(), by: z.string(), line: z.int() }).nullable(),
  visitor: z.strictObject({
    account: z.string().nullable(),
    /** Who acts for that account; null where nobody does. */
    actedBy: z.string().nullable(),
    roles: z.array(z.string()),
    reason: z.string(),
  }),
  admitted: z.string(),
  /** The name of the barrier that stops the visitor. */
  barrier: z.string().nullable(),
  /** Facts that are asked for and missing, in words. */
  lacks: z.array(z.string()),
  parts: z.array(z.strictObject({ name: z.string(), line: z.int(), shown: z.boolean() })),
  status: z.int().nullable(),
  lands: z.string().nullable(),
  /** Each of them would admit the visitor; each is a list of steps. */
  changes: z.array(z.array(z.string())),
});
export type WhyJson = z.infer<typeof whyFormat>;

const writtenWalk = z.strictObject({
  /** The steps as `cavrin walk` shows them, waits among them. */
  steps: z.array(z.strictObject({ browser: z.string(), action: z.string() })),
  /** Seconds on the virtual clock at its last step. */
  time: z.int(),
});

/** `cavrin prove --format json`. */
export const proofFormat = z.strictObject({
  format: z.literal('cavrin/proof'),
  version: z.literal(1),
  app: z.string(),
  policy: z.string(),
  verdicts: z.array(
    z.strictObject({
      /** The name of a law, or `promise` and its number. */
      goal: z.string(),
      weight: z.enum(['law', 'advice', 'promise']),
      words: z.string(),
      place: place.nullable(),
      verdict: z.enum(['holds', 'broken', 'not-settled', 'not-asked']),
      /** Why it was not settled, or what the policy lacks that it is about. */
      because: z.string().nullable(),
      /** The shortest walk that breaks it; its steps without waits are counted. */
      brokenBy: writtenWalk
        .extend({ moves: z.int(), seen: z.string(), allowedBy: place.nullable(), scene: z.string() })
        .nullable(),
      /** The shortest walk of each other way in which it is broken, four at most. */
      alsoBrokenBy: z.array(
        writtenWalk.extend({ moves: z.int(), seen: z.string(), allowedBy: place.nullable() }),
      ),
      /** Further ways that may be there, for which no walk was looked for. */
      otherWays: z.int(),
    }),
  ),
  /** null: not asked for, or not finished. */
  exposures: z
    .array(
      z.strictObject({
        credential: z.string(),
        since: z.string(),
        /** Seconds from which on it opens nothing; null: no limit. */
        ends: z.int().nullable(),
        /** Whether the walk opens something a second before that. */
        attained: z.boolean(),
        walk: writtenWalk.nullable(),
      }),
    )
    .nullable(),
  scenes: z.array(
    z.strictObject({
      words: z.string(),
      account: z.string().nullable(),
      /** Whether that is a machine's. */
      machine: z.boolean(),
      /** The accounts that it speaks for. */
      alike: z.array(z.string()),
      browsers: z.int(),
      tabs: z.int(),
      thief: z.boolean(),
      administrator: z.boolean(),
      states: z.int(),
      transitions: z.int(),
      /** Kinds of addresses, and classes of requests to them that are answered alike. */
      addresses: z.int(),
      requests: z.int(),
      finished: z.boolean(),
    }),
  ),
  steps: z.array(z.string()),
  totals: z.strictObject({
    holds: z.int(),
    broken: z.int(),
    notSettled: z.int(),
    notAsked: z.int(),
    scenes: z.int(),
    /** The scenes of which it was known before what comes of them. */
    known: z.int(),
    states: z.int(),
    transitions: z.int(),
  }),
});
export type ProofJson = z.infer<typeof proofFormat>;

const message = z.strictObject({
  method: z.string(),
  target: z.string(),
  status: z.int(),
  location: z.string().nullable(),
});

/** One place at which the app does something else. */
const showing = z.strictObject({
  walk: z.string(),
  /** The number of the step, from 1, and where it is written. */
  step: z.int(),
  ...place.shape,
  action: z.string(),
  browser: z.string(),
  driver: z.enum(['http', 'browser']),
  differences: z.array(z.strictObject({ aspect: z.string(), policy: z.string(), app: z.string() })),
  policyMessages: z.array(message),
  appMessages: z.array(message),
  /** Later steps that may follow from it, by their numbers. */
  follow: z.array(z.int()),
});

/** `cavrin live --format json`. */
export const liveFormat = z.strictObject({
  format: z.literal('cavrin/live'),
  version: z.literal(1),
  app: z.string(),
  at: z.string(),
  policy: z.string(),
  findings: z.array(
    z.strictObject({
      class: z.enum(['opens', 'refuses', 'lands', 'holds', 'way']),
      title: z.string(),
      /** The place of the policy that decides. */
      place: place.nullable(),
      /** Why its owner keeps it; null where nobody said so. */
      accepted: z.string().nullable(),
      /** What of the policy, written otherwise, would describe the app; null where nothing small does. */
      describedBy: z.string().nullable(),
      first: showing,
      also: z.array(showing),
    }),
  ),
  walks: z.array(
    z.strictObject({
      ...place.shape,
      name: z.string(),
      driver: z.enum(['http', 'browser']),
      steps: z.int(),
      played: z.int(),
      /** Why the rest was not played. */
      cut: z.string().nullable(),
    }),
  ),
  /** What of played steps could not be judged. */
  notJudged: z.array(z.strictObject({ aspect: z.string(), reason: z.string(), steps: z.int() })),
  totals: z.strictObject({
    findings: z.int(),
    accepted: z.int(),
    walks: z.int(),
    steps: z.int(),
    notPlayed: z.int(),
    requests: z.int(),
  }),
});
export type LiveJson = z.infer<typeof liveFormat>;
