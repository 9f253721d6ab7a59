import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { defineConfig } from '@playwright/test'

const port = Number(process.env.E2E_PORT ?? 8097)
const dir = mkdtempSync(join(tmpdir(), 'zanjero-e2e-'))

// The real program with its own throw-away PostgreSQL, driven in Debian's Chromium.
export default defineConfig({
  testDir: 'tests',
  timeout: 120_000,
  // Room for a machine that is busy with something else.
  expect: { timeout: 15_000 },
  workers: 1,
  // A machine's chances come from a seed that differs each time.
  retries: 1,
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    actionTimeout: 20_000,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  webServer: {
    command: `../bin/zanjero serve --throwaway --addr 127.0.0.1:${port} --dir ${dir}`,
    url: `http://127.0.0.1:${port}/`,
    reuseExistingServer: false,
    timeout: 60_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 15_000 },
  },
})
