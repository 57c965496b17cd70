import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist/', '.types/', 'node_modules/'] },
  js.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    extends: [...tseslint.configs.recommendedTypeChecked],
    languageOptions: {
      parserOptions: {
        // One program of everything: one for each room would read core seven times.
        project: './tsconfig.lint.json',
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      eqeqeq: 'error',
      'no-console': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/no-meaningless-void-operator': 'off',
      '@typescript-eslint/require-await': 'off',
      'max-lines': ['error', { max: 420, skipBlankLines: true, skipComments: true }],
    },
  },
  { files: ['web/**/*.tsx', 'web/**/*.ts'], ...reactHooks.configs.flat.recommended },
  { files: ['bench/**', 'e2e/**'], rules: { 'no-console': 'off' } },
  { files: ['**/*.js', '**/*.mjs', '**/*.cjs'], languageOptions: { globals: globals.node } },
);
