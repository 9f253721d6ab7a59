import { expect, test, type Browser } from '@playwright/test'
import { inWords, noSideScroll, pick, signIn } from '../bench.ts'

/** Somebody with a phone of their own. */
const phone = async (browser: Browser) => (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage()

test('a class votes at the wall from its phones, sees what each test was worth after, and what it was at the end', async ({ page, browser }) => {
  test.setTimeout(150_000)
  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'People' }).click()
  await page.getByRole('option', { name: /^Morning bench/ }).click()
  await page.getByRole('link', { name: 'Work of the class' }).click()
  await page.getByRole('button', { name: 'At the wall' }).click()
  await pick(page.getByRole('dialog'), 'Scenario', 'last')
  await page.getByRole('button', { name: 'Put it up' }).click()
  await expect(page.getByRole('heading', { name: 'Which test next?' })).toBeVisible()

  const [ines, rafi] = [await phone(browser), await phone(browser)]
  for (const [p, who] of [[ines, 'ines'], [rafi, 'rafi']] as const) {
    await signIn(p, who)
    await p.getByRole('region', { name: 'Wall' }).getByRole('link', { name: 'Vote' }).first().click()
    await p.getByRole('button', { name: 'Look at the fuel' }).click()
    await expect(p.getByRole('status').filter({ hasText: 'You voted for Look at the fuel' })).toBeVisible()
    await noSideScroll(p)
  }
  await rafi.getByLabel('Find a test').fill('start it')
  await rafi.getByRole('button', { name: 'Try to start it' }).click()
  const vote = page.getByRole('region', { name: 'The vote' })
  await expect(vote.getByRole('status')).toHaveText(/^2 of \d+ have voted/)
  await expect(vote.getByText(/% off/), 'what a test is worth is not told before').toHaveCount(0)

  await vote.getByRole('button', { name: 'Close the vote' }).click()
  const row = (test: string) => vote.getByRole('listitem').filter({ hasText: test })
  await expect(row('Look at the fuel')).toContainText('votes: 1')
  await expect(row('Try to start it')).toContainText(/\d+ % off in \d/)
  await expect(vote.getByText('worth most a minute').first()).toBeVisible()
  await expect(ines.getByText(/You voted for/)).toContainText(/% off/)
  await inWords(page)
  await inWords(ines)
  await row('Try to start it').getByRole('button', { name: 'Make it' }).click()
  await expect(page.getByRole('region', { name: 'Found so far' }).getByRole('listitem').filter({ hasText: 'Try to start it' })).toBeVisible()
  await expect(rafi.getByRole('heading', { name: 'Which test next?' })).toBeVisible()
  await expect(rafi.getByRole('status').filter({ hasText: 'Try to start it:' })).toBeVisible()

  await page.getByRole('button', { name: 'Tell what it is' }).click()
  await page.getByRole('button', { name: 'Tell it now, and end?' }).click()
  await expect(page.getByRole('heading', { name: 'It was' })).toBeVisible()
  await expect(ines.getByRole('heading', { name: 'It was' })).toBeVisible()
  await ines.context().close()
  await rafi.context().close()
})
