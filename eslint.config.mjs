import tseslint from 'typescript-eslint';
import reactHooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import prettier from 'eslint-config-prettier';

export default tseslint.config(
  { ignores: ['**/node_modules/**', '**/dist/**', '**/.next/**', '**/.data/**', '**/next-env.d.ts', 'web/public/**'] },
  ...tseslint.configs.recommended,
  {
    // A short text must never take long: no expression may try its way through one.
    files: ['**/*.{ts,tsx,cjs,mjs}'],
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': ['error', { report: 'certain' }],
    },
  },
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
  {
    // One place says how a link behaves (web/ui/link.tsx).
    files: ['web/**/*.tsx'],
    ignores: ['web/ui/link.tsx'],
    rules: { 'no-restricted-imports': ['error', { name: 'next/link', message: "Use '@/ui/link'." }] },
  },
  {
    // Tests wait for what happens (`until`, `expect.poll`), never for a time, and press what a person could press.
    files: ['**/*.test.{ts,tsx}', 'e2e/tests/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "NewExpression[callee.name='Promise'] CallExpression[callee.name='setTimeout'][arguments.0.name='resolve']",
          message: 'A test that sleeps is slow where it passes and wrong where it does not: wait for what happens.',
        },
        { selector: "CallExpression[callee.property.name='waitForTimeout']", message: 'Wait for what happens.' },
        { selector: "Literal[value='networkidle']", message: 'Streams of events never rest: wait for what is shown.' },
        {
          selector:
            "CallExpression[callee.property.name=/^(click|fill|check|hover|selectOption|dragTo)$/] Property[key.name='force']",
          message: 'What cannot be pressed without force cannot be pressed by a person.',
        },
      ],
    },
  },
  {
    // What the engine knows of the domain stands in data beside the code that uses it, under a name and once: no
    // threshold, share or span of time in a formula. A number of the method is a constant with a name and its reason.
    files: [
      'core/src/{shape,observation,prediction,diagnosis,decide,inference,hypotheses,proof,bench,twin,population,trace,library,workbench,practice}/**/*.ts',
      'core/src/display/{read,classify}/**/*.ts',
    ],
    ignores: ['**/*.test.ts'],
    rules: {
      '@typescript-eslint/no-magic-numbers': [
        'error',
        {
          // Counting, halves, tens, percent and milli, and guards against a division by nothing.
          ignore: [-1, 0, 1, 2, 0.5, 10, 100, 1000, 0.001, 1e-4, 1e-5, 1e-6, 1e-9, 1e-12],
          ignoreArrayIndexes: true,
          ignoreNumericLiteralTypes: true,
          ignoreTypeIndexes: true,
        },
      ],
    },
  },
  {
    // A function is read at one look, a file in one sitting. What is longer says why beside it.
    files: ['**/*.ts'],
    ignores: ['**/*.test.ts', 'e2e/tests/**'],
    rules: { 'max-lines-per-function': ['error', 60], 'max-lines': ['error', 300] },
  },
  {
    files: ['**/*.tsx'],
    ignores: ['**/*.test.tsx'],
    rules: { 'max-lines-per-function': ['error', 150], 'max-lines': ['error', 300] },
  },
  { files: ['web/**/*.{ts,tsx}'], ...reactHooks.configs.flat['recommended-latest'] },
  { files: ['cli/src/**', 'web/scripts/**', 'e2e/**'], rules: { 'no-console': 'off' } },
  { files: ['**/*.{cjs,js}'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  prettier,
);
