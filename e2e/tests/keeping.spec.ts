import { expect, test } from '@playwright/test'
import { Bench, setJob, signIn } from '../bench.ts'

// Nothing typed is lost and nothing is done twice: reload, lost connection,
// second tab, double click, a session that ends.
test.describe.configure({ mode: 'serial' })
const words = 'Kept in the barn; will not fire.'

test.beforeAll(async ({ browser, baseURL }) => {
  const page = await browser.newPage({ baseURL })
  await signIn(page, 'tomasa')
  await setJob(page, { reach: 'Coil', fault: 'Coil secondary winding open', claim: 'It does not start', words, to: 'Rafi Onwell' })
  await page.close()
})

test('what is typed outlives a reload', async ({ page }) => {
  await signIn(page, 'rafi')
  const b = new Bench(page)
  await b.open(words)
  await b.put('Plug lead', 'earthed')
  await b.fit('Compression, dry')
  await b.press(/^Pull the rope/)
  await page.getByLabel('Reading').fill('61')
  await page.getByRole('button', { name: 'psi' }).click()
  await page.reload()
  await expect(page.getByLabel('Reading')).toHaveValue('61')
  await expect(page.getByRole('button', { name: 'psi' })).toHaveAttribute('aria-pressed', 'true')
  await expect(page.getByRole('button', { name: 'Pull the rope · 1' })).toBeVisible()
})

test('an act on a lost connection is kept and done once', async ({ page }) => {
  await signIn(page, 'rafi')
  const b = new Bench(page)
  await b.open(words)
  // The server does it, and the answer is lost on the way back.
  let lost = 0
  await page.route('**/events', async (route) => {
    if (lost++ === 0) {
      await route.fetch()
      await route.abort('connectionreset')
    } else await route.continue()
  })
  const before = Number(await page.locator('.count b').first().textContent())
  await page.getByRole('tab', { name: 'Wait' }).click()
  await page.getByRole('button', { name: /Let it stand 5 min/ }).click()
  await expect(page.getByText(/Connection lost/)).toBeVisible()
  await expect(page.getByText(/Connection lost/)).toBeHidden({ timeout: 15_000 })
  await expect(page.locator('.count b').first()).toHaveText(String(before + 5))
  await page.reload()
  await expect(page.locator('.count b').first()).toHaveText(String(before + 5))
})

test('a double click is one act, and a second tab is told that the bench has moved on', async ({ page, context }) => {
  await signIn(page, 'rafi')
  const b = new Bench(page)
  await b.open(words)
  const before = Number(await page.locator('.count b').first().textContent())
  await page.getByRole('tab', { name: 'Wait' }).click()
  await page.getByRole('button', { name: /Let it stand 1 min/ }).dblclick()
  await expect(page.locator('.count b').first()).toHaveText(String(before + 1))
  // A tab that cannot hear of the first one's acts.
  const other = await context.newPage()
  await other.addInitScript(() => {
    // @ts-expect-error: this tab has no channel to its siblings
    delete globalThis.BroadcastChannel
  })
  await other.goto(page.url())
  await other.getByRole('tab', { name: 'Wait' }).click()
  await b.press(/Let it stand 1 min/)
  const answer = other.waitForResponse((r) => r.url().endsWith('/events'))
  await other.getByRole('button', { name: /Let it stand 60 min/ }).click()
  expect((await answer).status()).toBe(409)
  await expect(other.getByRole('alert')).toContainText('moved on')
  await expect(other.locator('.count b').first()).toHaveText(String(before + 2))
})

test('a session that ends while somebody types loses nothing', async ({ page, context }) => {
  await signIn(page, 'rafi')
  const b = new Bench(page)
  await b.open(words)
  await b.fit('Compression, dry')
  await b.press(/^Pull the rope/)
  await page.getByLabel('Reading').fill('62')
  await page.getByRole('button', { name: 'psi' }).click()
  await page.getByRole('button', { name: 'In band' }).click()
  await context.clearCookies()
  await page.getByRole('button', { name: 'Write it down' }).click()
  await expect(page.getByText('Your session has ended')).toBeVisible()
  await page.getByLabel('Password').fill('wrong')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('name and password do not match')).toBeVisible()
  await page.getByLabel('Password').fill('ditch-08')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('Your session has ended')).toBeHidden()
  await expect(page.getByRole('listitem').filter({ hasText: 'Compression, dry' }).getByText('62 psi')).toBeVisible()
})

test('a wrong entry is refused with how to mend it, and stays where it was typed', async ({ page }) => {
  await signIn(page, 'rafi')
  const b = new Bench(page)
  await b.open(words)
  await b.fit('Compression, dry')
  await b.press(/^Pull the rope/)
  await page.getByLabel('Reading').fill('1,234')
  await page.getByRole('button', { name: 'psi' }).click()
  await page.getByRole('button', { name: 'Above' }).click()
  await page.getByRole('button', { name: 'Write it down' }).click()
  await expect(page.getByRole('alert')).toContainText('write it with a point')
  await expect(page.getByLabel('Reading')).toHaveValue('1,234')
})
