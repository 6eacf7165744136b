import tseslint from 'typescript-eslint';
import reactHooks from 'eslint-plugin-react-hooks';
import prettier from 'eslint-config-prettier';

export default tseslint.config(
  { ignores: ['**/node_modules/**', '**/dist/**', '**/.next/**', '**/.data/**', '**/next-env.d.ts', 'web/public/**'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { ignoreRestSiblings: true, argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      eqeqeq: ['error', 'smart'],
      'no-console': 'error',
    },
  },
  { files: ['web/**/*.{ts,tsx}'], ...reactHooks.configs.flat['recommended-latest'] },
  { files: ['cli/src/**', 'web/scripts/**', 'e2e/**'], rules: { 'no-console': 'off' } },
  { files: ['**/*.{cjs,js}'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  prettier,
);
