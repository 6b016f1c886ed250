import { defineConfig } from 'vitest/config'

// limits for a machine that does other things too
const common = { testTimeout: 900000, hookTimeout: 900000 }

export default defineConfig({
  test: {
    // each file starts workers of its own; two files at a time fill two cores
    maxWorkers: 2,
    projects: [
      {
        test: {
          ...common,
          name: 'web',
          include: ['packages/web/**/*.test.ts', 'packages/server/src/jobs/activity.test.ts'],
        },
      },
      {
        test: {
          ...common,
          name: 'others',
          include: ['packages/**/*.test.ts'],
          exclude: ['**/node_modules/**', 'packages/web/**', 'packages/server/src/jobs/activity.test.ts'],
          // nothing is mocked there: modules are loaded once for all files
          isolate: false,
        },
      },
    ],
  },
})
