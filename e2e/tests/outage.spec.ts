import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { Bench, setJob, signIn } from '../bench.ts'

// A server of its own, which is stopped and started again in mid-job.
const port = Number(process.env.E2E_PORT ?? 8097) + 1
const dir = mkdtempSync(join(tmpdir(), 'zanjero-outage-'))
let server: ChildProcess | undefined

async function start() {
  server = spawn('../bin/zanjero', ['serve', '--throwaway', '--addr', `127.0.0.1:${port}`, '--dir', dir], { stdio: 'ignore' })
  await expect(async () => expect((await fetch(`http://127.0.0.1:${port}/`)).ok).toBe(true)).toPass({ timeout: 60_000 })
}

async function stop() {
  const ended = new Promise((done) => server!.once('exit', done))
  server!.kill('SIGTERM')
  await ended
}

test.use({ baseURL: `http://127.0.0.1:${port}` })
test.beforeAll(start)
test.afterAll(async () => {
  await stop()
  rmSync(dir, { recursive: true, force: true })
})

test('the server is stopped for a minute in mid-job: typing goes on, nothing is lost or doubled, two tabs agree', async ({ page, context }) => {
  test.setTimeout(240_000)
  const words = 'It went quiet when the lights did.'
  await signIn(page, 'tomasa')
  await setJob(page, { reach: 'Coil', fault: 'Coil secondary winding open', claim: 'It does not start', words, to: 'Ines Calder' })
  await signIn(page, 'ines')
  const b = new Bench(page)
  await b.open(words)
  await b.put('Plug lead', 'earthed')
  await b.fit('Compression, dry')
  await b.press('Zero it')
  await b.press(/^Pull the rope/)
  const other = await context.newPage()
  await other.goto(page.url())
  await expect(other.getByRole('heading', { name: 'Ledger' })).toBeVisible()

  await stop()
  const away = Date.now()
  // A pull that no server hears, a reading, then a control and marks behind it.
  await page.getByRole('button', { name: /^Pull the rope/ }).click()
  await page.getByLabel('Reading').fill('61')
  await expect(page.getByText(/Connection lost/)).toBeVisible()
  await page.getByRole('slider', { name: 'Throttle' }).press('End')
  for (const [reach, mark] of [['Boot', 'Suspect'], ['Coil', 'Condemn'], ['Filter', 'Suspect']]) {
    await b.at(reach)
    await page.getByRole('button', { name: mark, exact: true }).click()
  }
  await expect(page.getByText('5 acts are kept and will be sent.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Coil, condemned' })).toBeVisible()
  await page.waitForTimeout(Math.max(0, 60_000 - (Date.now() - away)))
  await expect(page.locator('.ledger .unsent')).toHaveCount(5)

  await start()
  await expect(page.locator('.ledger .unsent')).toHaveCount(0, { timeout: 30_000 })
  await expect(page.getByText(/Connection lost/)).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Pull the rope · 2' })).toBeVisible()
  await expect(page.getByLabel('Reading')).toHaveValue('61')

  // The other tab is told of it, and so is one that is opened anew.
  for (const tab of [other, await context.newPage()]) {
    if (tab !== other) await tab.goto(page.url())
    for (const state of ['Boot, suspect', 'Coil, condemned', 'Filter, suspect']) await expect(tab.getByRole('button', { name: state })).toBeVisible({ timeout: 15_000 })
    await expect(tab.getByRole('slider', { name: 'Throttle' })).toHaveAttribute('aria-valuenow', '1')
    await expect(tab.getByRole('button', { name: 'Pull the rope · 2' })).toBeVisible()
  }
  const seq = await page.evaluate(async () => ((await (await fetch(`/api/attempts/${location.pathname.split('/').pop()}`)).json()) as { seq: number }).seq)
  // The lead, the gauge, its zero, a pull, and the five that waited.
  expect(seq).toBe(9)
})
