// The fences without the typed rules, which could judge only files that exist.
import tseslint from 'typescript-eslint';
import { fences } from '../../lint/fences.mjs';

export default fences.map((fence) => ({ ...fence, languageOptions: { parser: tseslint.parser } }));
