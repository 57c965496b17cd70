import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** How hooks of React are used: what oxlint does not look at. All the rest is in .oxlintrc.json. */
export default tseslint.config({
  files: ['web/**/*.{ts,tsx}'],
  languageOptions: { parser: tseslint.parser },
  linterOptions: { reportUnusedDisableDirectives: 'off' },
  ...reactHooks.configs.flat.recommended,
});
