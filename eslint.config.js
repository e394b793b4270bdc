import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** Forbids a room to import others: arrows in the house point one way. */
const room = (files, forbidden, message) => ({
  files,
  ignores: ['**/*.test.ts', '**/*.testing.ts'],
  rules: {
    'no-restricted-imports': ['error', { patterns: forbidden.map((regex) => ({ regex, message })) }],
  },
});

export default ts.config(
  { ignores: ['build/', '.cache/', '.svelte-kit/', 'node_modules/', 'test-results/', 'playwright-report/'] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...svelte.configs.recommended,
  {
    languageOptions: { globals: { ...globals.browser, ...globals.node } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      // An index that was just checked, or a map entry that was just set, is said to be there with “!”.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-undef': 'off',
      'no-console': 'off',
      eqeqeq: 'error',
      'prefer-const': 'error',
      'svelte/no-navigation-without-resolve': 'off',
    },
  },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
    rules: {
      'svelte/prefer-svelte-reactivity': 'off',
      'prefer-const': 'off',
      'svelte/prefer-const': 'error',
    },
  },
  room(
    ['src/core/**'],
    [
      '^#(?!core/)',
      '^(\\.\\./)+(stage|script|server|ui|workers|routes)/',
      '^(?!@shaderfrog/)[a-z@$]',
      '^node:',
    ],
    'The core imports nothing outside the core.',
  ),
  room(
    ['src/stage/**'],
    ['^#(?!core/|stage/)', '^svelte', '^node:', '^\\$app', '^(\\.\\./)+(script|server|ui|workers|routes)/'],
    'The stage knows the core and three, and nothing of the interface.',
  ),
  room(
    ['src/script/**'],
    [
      '^#(?!core/|script/)',
      '^three',
      '^svelte',
      '^node:',
      '^\\$app',
      '^(\\.\\./)+(stage|server|ui|workers|routes)/',
    ],
    'The sandbox knows the core and its engine, and nothing else.',
  ),
  room(
    ['src/server/**'],
    [
      '^#(?!core/|server/|demo/)',
      '^three(?!/addons/loaders/(EXR|HDR)Loader)',
      '^svelte($|/)',
      '^(\\.\\./)+(stage|script|ui|workers|routes)/',
    ],
    'The server knows the core and its database, and nothing of the interface.',
  ),
  room(
    ['src/ui/**'],
    ['^#(server|demo)/', '^node:', '^knex', '^pg$', '^(\\.\\./)+(server|routes)/'],
    'The interface reaches the server over HTTP only.',
  ),
  {
    // Runs inside the sandbox, where there are no modules: its parts stand in one scope.
    files: ['src/script/prelude/*.js'],
    rules: { '@typescript-eslint/no-unused-vars': 'off', 'prefer-const': 'off' },
  },
);
