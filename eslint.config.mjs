import js from '@eslint/js';
import globals from 'globals';

export default [
  { ignores: ['public/build/', 'vendor/', 'tools/', 'var/', 'data/', 'node_modules/'] },
  js.configs.recommended,
  {
    files: ['assets/*.js'],
    languageOptions: { sourceType: 'script', globals: { ...globals.browser, htmx: 'readonly' } },
  },
  // What is run in pages: an event's name is put in place of ASK, what calls the function is put behind it.
  { files: ['assets/capture-stir.js'], languageOptions: { globals: { ASK: 'readonly' } } },
  { files: ['assets/replay-shim.js'], rules: { 'no-unused-vars': ['error', { varsIgnorePattern: '^ypomna$' }] } },
  {
    files: ['**/*.mjs', 'bin/make-screenshots'],
    languageOptions: { globals: { ...globals.node, ...globals.browser } },
  },
  {
    files: ['companion/**/*.js'],
    languageOptions: { sourceType: 'module', globals: { ...globals.browser, ...globals.serviceworker } },
  },
  {
    files: ['tests/Browser/companion*.mjs', 'bench/*.mjs'],
    languageOptions: { globals: { ...globals.webextensions, openLines: 'readonly' } },
  },
  {
    rules: {
      eqeqeq: ['error', 'smart'],
      'no-eval': 'error',
      'no-implied-eval': 'error',
      'no-var': 'error',
      'prefer-const': 'error',
    },
  },
];
