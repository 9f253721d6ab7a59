import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { defineConfig } from '@playwright/test'

const port = Number(process.env.E2E_PORT ?? 8097)
const WORKERS = 2
/** The port of a worker's own server. */
const portOf = (worker: number) => port + 10 * worker
const worker = Number(process.env.TEST_PARALLEL_INDEX ?? 0)

// The real program with its own throw-away PostgreSQL, one for each worker, driven in Debian's
// Chromium.
export default defineConfig({
  testDir: 'tests',
  timeout: 120_000,
  // Room for a machine that is busy with something else.
  expect: { timeout: 15_000 },
  workers: WORKERS,
  // A machine's chances come from a seed that differs each time.
  retries: 1,
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${portOf(worker)}`,
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
  webServer: Array.from({ length: WORKERS }, (_, i) => ({
    command: `../bin/zanjero serve --throwaway --addr 127.0.0.1:${portOf(i)} --dir ${mkdtempSync(join(tmpdir(), 'zanjero-e2e-'))}`,
    url: `http://127.0.0.1:${portOf(i)}/`,
    reuseExistingServer: false,
    timeout: 60_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 15_000 },
  })),
})
