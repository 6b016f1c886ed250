import tseslint from 'typescript-eslint'
import globals from 'globals'
import hooks from 'eslint-plugin-react-hooks'

const NODE_BUILTINS = [
  'node:*',
  'fs',
  'path',
  'os',
  'worker_threads',
  'crypto',
  'http',
  'zlib',
  'child_process',
]

/** Forbids imports by pattern, with the reason a developer reads in the editor. */
const forbid = (group, message) => ({
  'no-restricted-imports': ['error', { patterns: [{ group, message }] }],
})

export default tseslint.config(
  { ignores: ['**/node_modules/**', '**/dist/**', '**/build/**', '.cache/**', 'packages/core/kernels/**'] },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      'no-console': 'off',
      eqeqeq: 'error',
    },
  },
  { files: ['**/*.mjs', '**/*.js'], languageOptions: { globals: globals.node } },
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      ...forbid(
        [...NODE_BUILTINS, 'react*', 'express', 'sharp', 'drizzle-orm*', '@dunkelkammer/*'],
        'core is pure computation: no DOM, no Node, no interface, no server, no other package',
      ),
      'no-restricted-globals': [
        'error',
        ...['window', 'document', 'process', 'Buffer', 'navigator', 'fetch', 'self', 'require'],
      ],
    },
  },
  {
    files: ['packages/core/src/steps/**/*.ts', 'packages/core/src/pipeline/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        ...['log', 'log2', 'log10', 'exp', 'pow', 'cbrt', 'sin', 'cos', 'tan', 'tanh'].map((property) => ({
          object: 'Math',
          property,
          message: 'the same bits everywhere: use src/math, not the host library',
        })),
      ],
    },
  },
  {
    files: ['packages/engine/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: forbid(
      [
        'react*',
        'express',
        'drizzle-orm*',
        '@dunkelkammer/web*',
        '@dunkelkammer/server*',
        '@dunkelkammer/cli*',
      ],
      'engine schedules core; it knows neither interface nor server',
    ),
  },
  {
    files: ['packages/web/src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.ts'],
    rules: forbid(
      [
        ...NODE_BUILTINS,
        '@dunkelkammer/server*',
        '@dunkelkammer/cli*',
        '@dunkelkammer/demo*',
        'drizzle-orm*',
      ],
      'web asks the engine and the API; it computes no pixels and knows no server code',
    ),
  },
  {
    files: ['packages/web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['packages/{server,cli}/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: forbid(
      ['react*', '@dunkelkammer/web*', '@dunkelkammer/demo*'],
      'server and shell know neither the interface nor the demo world',
    ),
  },
)
