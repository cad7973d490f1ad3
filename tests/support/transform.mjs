// TypeScript, and the few packages that are ES modules only, made into CommonJS for Jest. Types are checked apart.
import { transformSync } from 'esbuild';

export default {
  process(text, file) {
    const { code, map } = transformSync(text, {
      loader: file.endsWith('.ts') ? 'ts' : 'js',
      format: 'cjs',
      target: 'node20',
      platform: 'node',
      supported: { 'dynamic-import': false },
      sourcefile: file,
      sourcemap: 'external',
    });
    return { code, map };
  },
};
