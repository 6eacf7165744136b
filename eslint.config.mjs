import { readFileSync } from 'node:fs';
import tseslint from 'typescript-eslint';
import reactHooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import prettier from 'eslint-config-prettier';

/** Ids of patterns and checks, as far as they are no words of their own. */
const catalogueIds = new Set(
  ['patterns', 'checks'].flatMap((name) => {
    const text = readFileSync(new URL(`core/src/catalogue/${name}.ts`, import.meta.url), 'utf8');
    const list = text.slice(text.indexOf('const catalogue = {'), text.indexOf('} as const satisfies'));
    return [...list.matchAll(/^ {2}'?([a-z-]+)'?: \{/gm)].map((m) => m[1]).filter((id) => id.includes('-'));
  }),
);

const noLiteralId = {
  create: (context) => ({
    Literal(node) {
      if (typeof node.value === 'string' && catalogueIds.has(node.value) && node.parent.type !== 'TSLiteralType')
        context.report({
          node,
          message: `"${node.value}" is an id of the catalogue: ask for a field of its definition (core/src/catalogue), or for namedChecks.`,
        });
    },
  }),
};

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
    // One place says how a link behaves (web/ui/link.tsx), and one how a page moves (web/ui/router.ts).
    files: ['web/**/*.{ts,tsx}'],
    ignores: ['web/ui/link.tsx', 'web/ui/router.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { name: 'next/link', message: "Use '@/ui/link'." },
        { name: 'next/navigation', importNames: ['useRouter'], message: "Use '@/ui/router'." },
      ],
    },
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
    // What the code asks of a pattern or a check is a field of its definition. Left are what recognises each pattern, what
    // decides when each check fits or what its twin shows, made-up data, and entries of the catalogue itself.
    files: ['{core,tools,instruments,cli,web}/**/*.{ts,tsx}'],
    ignores: [
      '**/*.test.{ts,tsx}',
      '**/testing/**',
      'core/src/catalogue/**',
      'core/src/shape/patterns-*.ts',
      'core/src/observation/check-applies.ts',
      'core/src/prediction/predict-outcome.ts',
      'web/server/work/sample/**',
    ],
    plugins: { catalogue: { rules: { 'no-literal-id': noLiteralId } } },
    rules: { 'catalogue/no-literal-id': 'error' },
  },
  { files: ['web/**/*.{ts,tsx}'], ...reactHooks.configs.flat['recommended-latest'] },
  { files: ['cli/src/**', 'web/scripts/**', 'e2e/**'], rules: { 'no-console': 'off' } },
  { files: ['**/*.{cjs,js}'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  prettier,
);
