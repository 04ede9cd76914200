import eslint from '@eslint/js';
import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';
import noFolderCycles from './scripts/lint/no-folder-cycles.mjs';
import noImportCircles from './scripts/lint/no-import-circles.mjs';

/** The floors of docs/architecture.md: an import may only go down. */
const FLOORS = {
  core: [
    '@keyroster/*',
    'node:*',
    'express',
    'knex',
    'pg',
    'joi',
    '@angular/*',
    'rxjs',
    '@tiptap/*',
    // Knows no interface: it reads and writes texts in shared documents.
    '!@tiptap/y-tiptap',
  ],
  contract: [
    '@keyroster/server',
    '@keyroster/web',
    '@keyroster/demo',
    'node:*',
    'express',
    'knex',
    'pg',
    '@angular/*',
    'rxjs',
    '@tiptap/*',
  ],
  server: ['@keyroster/web', '@keyroster/demo', '@keyroster/standins', '@angular/*', 'rxjs', '@tiptap/*'],
  web: [
    '@keyroster/server',
    '@keyroster/demo',
    'node:*',
    'express',
    'knex',
    'pg',
    '@keyroster/contract/schemas',
    'joi',
  ],
  standins: ['@keyroster/*', '@angular/*'],
  e2e: ['@keyroster/*'],
};
const floor = (name) => ({
  files: [`${name}/**/*.ts`],
  ignores: [`${name}/**/*.spec.ts`, `${name}/src/**/testing.ts`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: FLOORS[name], message: 'An import may only go down the house: see docs/architecture.md.' },
          {
            regex: `^(\\.\\./)+(core|contract|server|web|demo|standins|e2e)/`,
            message: 'Workspaces are imported by name, not by path.',
          },
        ],
      },
    ],
  },
});

export default tseslint.config(
  {
    ignores: [
      '**/dist/',
      '**/node_modules/',
      '.data/',
      '**/.angular/',
      'test-results/',
      'playwright-report/',
    ],
  },
  eslint.configs.recommended,
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
      eqeqeq: 'error',
      // NUL is refused where text comes in, so expressions name it.
      'no-control-regex': 'off',
      'no-console': 'off',
    },
  },
  {
    files: ['**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        fetch: 'readonly',
        Buffer: 'readonly',
        setTimeout: 'readonly',
        performance: 'readonly',
        requestAnimationFrame: 'readonly',
      },
    },
  },
  // Components and their templates, with the rules that keep them open to everybody.
  {
    files: ['web/src/**/*.ts'],
    extends: angular.configs.tsRecommended,
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'kr', style: 'kebab-case' }],
      '@angular-eslint/directive-selector': 'off',
      '@angular-eslint/component-class-suffix': 'off',
    },
  },
  {
    files: ['web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
  },
  // Playwright reads which fixtures a hook wants from its pattern, an empty one included.
  { files: ['e2e/**/*.ts'], rules: { 'no-empty-pattern': 'off' } },
  ...Object.keys(FLOORS).map(floor),
  // Within a workspace, folders import each other in one direction only.
  ...['core/src', 'contract/src', 'server/src', 'web/src/app'].map((root) => ({
    files: [`${root}/**/*.ts`],
    ignores: ['**/*.spec.ts', '**/testing.ts', '**/testing/*.ts'],
    plugins: { house: { rules: { 'no-folder-cycles': noFolderCycles } } },
    rules: { 'house/no-folder-cycles': ['error', root] },
  })),
  // No two files need each other.
  ...['core/src', 'contract/src', 'server/src', 'web/src', 'demo/src', 'standins/src'].map((root) => ({
    files: [`${root}/**/*.ts`],
    ignores: ['**/*.spec.ts', '**/testing.ts', '**/testing/*.ts'],
    plugins: { circles: { rules: { 'no-import-circles': noImportCircles } } },
    rules: { 'circles/no-import-circles': ['error', root] },
  })),
  // One way to a transaction, which retries deadlocks.
  {
    files: ['server/src/**/*.ts'],
    ignores: ['**/*.spec.ts', 'server/src/testing/**', 'server/src/db/write.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "CallExpression[callee.property.name='transaction']",
          message: 'Use inTransaction of db/write.ts.',
        },
      ],
    },
  },
  // The clock of the newsroom is an argument: core never reads one.
  {
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.spec.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "NewExpression[callee.name='Date'][arguments.length=0], " +
            "CallExpression[callee.object.name='Date'][callee.property.name='now']",
          message: 'Core has no clock of its own; take now as an argument.',
        },
        {
          selector: "MemberExpression[object.object.name='Temporal'][object.property.name='Now']",
          message: 'Core has no clock of its own; take now as an argument.',
        },
      ],
    },
  },
);
