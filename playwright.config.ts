import { readFileSync } from 'node:fs'
import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: 'e2e',
  timeout: 400000,
  expect: { timeout: 60000 },
  // every test has frames of its own
  fullyParallel: true,
  workers: 2,
  // a test that fails once and then passes is reported as flaky, and is to be mended, but lands
  retries: process.env.CI ? 1 : 0,
  reporter: [['list']],
  outputDir: 'test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
      args: JSON.parse(readFileSync(new URL('scripts/chromium.json', import.meta.url), 'utf8')) as string[],
    },
  },
})
