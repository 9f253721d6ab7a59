import { expect, test, type Browser } from '@playwright/test'
import { acts, inWords, noSideScroll, setJob, signIn, told } from '../bench.ts'

/** Somebody at a window of their own. */
const another = async (browser: Browser) => (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()

test('a class is watched while it works: acts as they happen, an unsafe one, a question, a hint, a pause, a look over the shoulder', async ({ page, browser }) => {
  test.setTimeout(180_000)
  await signIn(page, 'tomasa')
  await setJob(page, {
    reach: 'Jets', fault: 'Main jet blocked', severity: 0.6, claim: 'It runs only with the choke on', words: told('Stops when the choke is opened.'),
    to: 'Rafi Onwell', toClass: 'Morning bench',
  })
  const who = (name: string) => page.getByRole('region', { name: 'Floor' }).getByRole('button', { name: new RegExp(`^${name}`) })
  const links = page.getByRole('link', { name: /^(Rafi Onwell|Ines Calder), / })
  await expect(links.first()).toBeVisible()
  const attempt = async (name: string) => (await page.getByRole('link', { name: new RegExp(`^${name}, `) }).first().getAttribute('href'))!.split('/').pop()!
  const [hers, his] = [await attempt('Ines Calder'), await attempt('Rafi Onwell')]
  await page.getByRole('link', { name: 'Watch them work' }).click()
  await expect(who('Ines Calder')).toContainText('not begun')
  await expect(who('Rafi Onwell')).toContainText('not begun')

  const [ines, rafi] = [await another(browser), await another(browser)]
  await signIn(ines, 'ines')
  await signIn(rafi, 'rafi')
  await ines.goto(`/bench/${hers}`)
  await rafi.goto(`/bench/${his}`)
  // An act is there without anybody asking for it, and what was not safe is said.
  await acts(rafi, his, [{ kind: 'mark', reach: 'plug', mark: 'clear' }, { kind: 'take', test: 'start-attempt' }])
  await expect(who('Rafi Onwell')).toContainText('Not safe:')
  await expect(who('Rafi Onwell').getByRole('img', { name: /Plug: flows/ })).toBeVisible()
  await expect(page.getByRole('status').filter({ hasText: '1 need you' })).toBeVisible()

  // A question from the bench, and the answer to it.
  await ines.getByRole('button', { name: 'Ask your instructor' }).click()
  await ines.getByLabel('Your question').fill('May I take the bowl off?')
  await ines.reload()
  await ines.getByRole('button', { name: 'Ask your instructor' }).click()
  await expect(ines.getByLabel('Your question'), 'what was typed outlives a reload').toHaveValue('May I take the bowl off?')
  await ines.getByRole('button', { name: 'Ask', exact: true }).click()
  await expect(who('Ines Calder')).toContainText('May I take the bowl off?')
  await who('Ines Calder').click()
  const beside = page.getByRole('region', { name: 'Ines Calder' })
  await expect(beside.getByText('Main jet blocked').first()).toBeVisible()
  await beside.getByLabel('Own words').fill('Look at the fuel first.')
  await beside.getByRole('button', { name: 'Say it' }).click()
  await expect(beside.getByRole('status')).toContainText('Look at the fuel first.')
  const talk = ines.getByRole('region', { name: 'Between you and your instructor' })
  await expect(talk.getByRole('status').filter({ hasText: 'Look at the fuel first.' })).toBeVisible()
  await talk.getByRole('button', { name: 'I have read it' }).click()
  await expect(talk.getByText('Look at the fuel first.')).toBeHidden()

  // Everybody stands still, and goes on.
  await page.getByRole('button', { name: 'Pause all' }).click()
  await expect(ines.getByRole('alert').filter({ hasText: 'paused' })).toBeVisible()
  await expect(rafi.getByRole('alert').filter({ hasText: 'paused' })).toBeVisible()
  await expect(ines.getByRole('slider', { name: 'Choke' })).toHaveAttribute('tabindex', '-1')
  await page.getByRole('button', { name: 'Let all go on' }).click()
  await expect(ines.getByRole('alert').filter({ hasText: 'paused' })).toBeHidden()

  // Over the shoulder, where it goes on by itself.
  await inWords(page)
  await noSideScroll(page)
  await beside.getByRole('link', { name: 'Over the shoulder' }).click()
  await expect(page.getByRole('region', { name: 'Ledger' })).toBeVisible()
  await acts(ines, hers, [{ kind: 'take', test: 'look-fuel' }])
  await expect(page.getByRole('region', { name: 'Ledger' })).toContainText('Look at the fuel')
  // What was said stands in the debrief too.
  await ines.evaluate(async (a) => {
    const hand = { findings: [{ reach: 'coil', filing: 'root' }], verdict: 'refer-on', proof_seq: -1 }
    await fetch(`/api/attempts/${a}/hand-over`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(hand) })
  }, hers)
  await page.goto(`/debrief/${hers}`)
  const said = page.getByRole('region', { name: 'Said at the bench' })
  await expect(said.getByRole('listitem').first()).toContainText('May I take the bowl off?')
  await expect(said.getByRole('listitem').last()).toContainText('Look at the fuel first.')
  await ines.context().close()
  await rafi.context().close()
})
