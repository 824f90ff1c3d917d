import { defineConfig } from '@playwright/test'

const baseURL = process.env.VECTUM_E2E_URL ?? 'http://127.0.0.1:8080'

/** Debian's Chromium against the real application; the test command starts server and database and names the address. */
export default defineConfig({
  testDir: '.',
  // a busy machine is slower than any screen: what is late still has to come
  timeout: 600_000,
  expect: { timeout: 60_000 },
  workers: 1,
  retries: 0,
  forbidOnly: true,
  reporter: process.env.VECTUM_E2E_JSON ? [['list'], ['json', { outputFile: process.env.VECTUM_E2E_JSON }]] : 'line',
  outputDir: process.env.VECTUM_E2E_OUTPUT ?? '../dist/playwright',
  preserveOutput: 'failures-only',
  use: {
    baseURL,
    // what glides is drawn by the processor here, and costs a sixth of these tests; what a button is covered by is tried with it gliding
    contextOptions: { reducedMotion: 'reduce' },
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    actionTimeout: 90_000,
    // who is working has been told; the whole path tells it itself
    storageState: { cookies: [], origins: [{ origin: baseURL, localStorage: [{ name: 'vectum.person', value: 'Ada' }] }] },
    launchOptions: {
      executablePath: process.env.VECTUM_CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-background-networking',
        '--disable-quic',
        '--disable-gpu',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        // letters as wide as in a browser with a window
        '--font-render-hinting=none',
      ],
    },
  },
})
