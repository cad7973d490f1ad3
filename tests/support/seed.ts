import fc from 'fast-check';

// The same cases in every run, so that a red test is the fault of the change before it; SEED=… tries others.
fc.configureGlobal({ seed: Number(process.env['SEED'] ?? 20260101) });
