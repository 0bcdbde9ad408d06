import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import ts from 'typescript-eslint';

export default ts.config(
  { ignores: ['dist', 'node_modules', 'coverage', '.data', '.test', '.build', '**/migrations'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  { languageOptions: { globals: { ...globals.node, ...globals.browser } } },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-unused-expressions': ['error', { allowShortCircuit: true, allowTernary: true }],
      '@typescript-eslint/no-explicit-any': 'error',
      eqeqeq: 'error',
      'no-control-regex': 'off',
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    // money is exact: the core knows no clock, no chance and no binary floating point
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts', 'core/tests/**'],
    rules: {
      'no-restricted-globals': ['error', 'Date', 'process', 'window', 'document', 'fetch', 'setTimeout', 'parseFloat'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random' },
        { object: 'Number', property: 'parseFloat' },
      ],
      'no-restricted-syntax': [
        'error',
        { selector: "CallExpression[callee.property.name='toNumber']", message: 'A figure stays an exact decimal.' },
      ],
    },
  },
);
