import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['packages/**/*.test.ts'],
    exclude: ['**/node_modules/**', 'dist/**'],
    testTimeout: 60000,
    hookTimeout: 60000,
    // each file starts workers of its own; two files at a time fill two cores
    maxWorkers: 2,
  },
})
