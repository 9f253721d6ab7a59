import { createRequire } from 'node:module'
import { expect, test, type Page } from '@playwright/test'
import { acts, Bench, noSideScroll, pick, setJob, signIn, told } from '../bench.ts'

/** What of a statement breaks a rule of xAPI 1.0.3. */
const xapi = createRequire(import.meta.url)('@learninglocker/xapi-validation').default as (s: unknown) => unknown[]

/** A job of Juno's that is found, repaired and proved, in a place that nobody aired. */
async function handedOver(page: Page, words: string) {
  await signIn(page, 'tomasa')
  await setJob(page, { reach: 'Jets', fault: 'Main jet blocked', severity: 0.6, claim: 'It runs only with the choke on', words, to: 'Juno Pask' })
  await signIn(page, 'juno')
  const b = new Bench(page)
  await b.open(words)
  const attempt = page.url().split('/').pop()!
  await acts(page, attempt, [
    { kind: 'control', control: { choke: 1 } },
    { kind: 'take', test: 'start-attempt' },
    { kind: 'do', do: 'catch-can' },
    { kind: 'take', test: 'bowl-look' },
    { kind: 'entry', word: 'varnish' },
    { kind: 'take', test: 'jet-look' },
    { kind: 'entry', word: 'part' },
    { kind: 'mark', reach: 'jets', mark: 'condemned' },
    { kind: 'repair', repair: 'replace', reach: 'jets' },
    { kind: 'cover', cover: 'bowlopen', off: false },
    { kind: 'take', test: 'start-attempt' },
  ])
  await page.reload()
  await b.fillHandOver()
  await page.getByRole('button', { name: 'Hand over and read the debrief' }).click()
  await page.waitForURL(/\/debrief\//)
  await expect(page.getByText('What speaks against it').or(page.getByLabel('What speaks against it'))).toBeVisible()
  return attempt
}

test('a person has the last word: marks changed with a reason, a comment, sign-off, another look, a blind second marker, a resit', async ({ page }) => {
  test.setTimeout(240_000)
  const words = told('Coughs, and only the choke keeps it going.')
  const attempt = await handedOver(page, words)
  // What it was, what was shown, what it cost, what is next; and the way of somebody competent.
  const verdict = page.getByRole('region', { name: 'Verdict' })
  await expect(verdict.getByText('Not yet')).toBeVisible()
  await expect(verdict.getByText('A precaution was left out that can kill or burn.', { exact: false })).toBeVisible()
  await expect(page.getByRole('list', { name: 'Competent' })).toBeVisible()
  await expect(page.getByText('Look in the bowl').first()).toBeVisible()

  await page.setViewportSize({ width: 390, height: 844 })
  await page.reload()
  await expect(page.getByRole('list', { name: 'Competent' })).toBeVisible()
  await noSideScroll(page)
  await page.setViewportSize({ width: 1280, height: 800 })

  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'To review' }).click()
  await expect(page.getByRole('row', { name: /Juno Pask/ }).first()).toBeVisible()
  await page.goto(`/debrief/${attempt}`)
  await page.getByRole('button', { name: 'Open all' }).click()
  const line = page.getByRole('listitem').filter({ hasText: 'Precautions.' })
  await line.getByRole('button', { name: /^Change the marks/ }).click()
  await line.getByRole('textbox', { name: 'Marks' }).fill('11,5')
  await line.getByRole('button', { name: 'Set' }).hover()
  await expect(page.getByText('Write the reason first').first()).toBeVisible()
  await line.getByRole('textbox', { name: 'Reason' }).fill('The doors stood open; I was there.')
  await line.getByRole('button', { name: 'Set' }).click()
  await expect(page.getByText('15 before, 11.5 now')).toBeVisible()
  const review = page.getByRole('region', { name: 'What people say of it' })
  await review.getByLabel('Comment or reason').fill('Good eyes at the jet.')
  await page.reload()
  await expect(review.getByLabel('Comment or reason'), 'what was typed is still there').toHaveValue('Good eyes at the jet.')
  await review.getByRole('button', { name: /^Comment at/ }).click()
  await expect(review.getByText('Good eyes at the jet.')).toBeVisible()
  await review.getByLabel('Comment or reason').fill('Shown to me again the same day.')
  await review.getByRole('button', { name: 'Outcome, second marker, resit' }).click()
  await review.getByRole('button', { name: 'Competent', exact: true }).click()
  await review.getByRole('button', { name: 'Set the outcome' }).click()
  await expect(page.getByRole('region', { name: 'Verdict' }).getByText('competent', { exact: true })).toBeVisible()
  await pick(review, 'Second marker', 'Benna Loft')
  await review.getByRole('button', { name: 'Ask to mark it' }).click()
  await expect(review.getByText('Benna Loft is asked, and has not marked it yet.')).toBeVisible()
  await review.getByRole('button', { name: 'Sign off' }).click()
  await expect(review.getByText('Signed off').first()).toBeVisible()

  // Blind: what was done, and nothing of what was said of it.
  await signIn(page, 'benna')
  await page.getByRole('row', { name: /Juno Pask.*You are asked/ }).first().getByRole('link').click()
  await page.waitForURL(/\/debrief\//)
  await expect(page.getByText('You are asked to mark this without seeing the marks')).toBeVisible()
  await expect(page.getByRole('region', { name: 'Verdict' })).toHaveCount(0)
  await expect(page.getByText('Good eyes')).toHaveCount(0)
  for (const [section, marks] of [['Readings', 18], ['Evidence and conclusion', 30], ['Economy', 9], ['Order', 9], ['Safety', 7.5], ['Proof and hand-over', 9]] as const)
    await page.getByLabel(`${section}, of`).fill(String(marks))
  await page.getByRole('button', { name: 'Not yet', exact: true }).click()
  await page.getByRole('button', { name: 'Give these marks' }).click()
  await expect(page.getByText('Benna Loft marked it second, and came to another outcome: not yet')).toBeVisible()

  await signIn(page, 'juno')
  await page.goto(`/debrief/${attempt}`)
  await expect(review.getByText('15 before')).toHaveCount(0)
  await expect(review.getByText('The doors stood open; I was there.')).toBeVisible()
  await expect(page.getByText('Benna Loft')).toHaveCount(0)
  await review.getByLabel('Why should somebody look again?').fill('The proof ran well; I have it on the ledger.')
  await review.getByRole('button', { name: 'Ask for another look' }).click()
  await expect(review.getByText('Another look is asked for').first()).toBeVisible()
  await expect(review.getByRole('button', { name: 'Ask for another look' })).toHaveCount(0)

  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'To review' }).click()
  await page.getByRole('row', { name: /Another look is asked for/ }).first().getByRole('link').click()
  await review.getByLabel('Comment or reason').fill('It did. The marks stand; take the resit.')
  await review.getByRole('button', { name: 'Answer and sign off' }).click()
  await expect(review.getByText('Signed off').first()).toBeVisible()
  await review.getByRole('button', { name: 'Outcome, second marker, resit' }).click()
  await review.getByRole('button', { name: 'Give a resit' }).click()
  await expect(review.getByText('An equal job was given')).toBeVisible({ timeout: 60_000 })
  const saved = page.waitForEvent('download')
  await review.getByRole('button', { name: 'Save the attempt as a file' }).click()
  expect((await saved).suggestedFilename()).toBe('attempt.json')

  await signIn(page, 'juno')
  await expect(page.getByRole('link', { name: words }), 'the equal job, beginning alike').toBeVisible()
  await page.goto(`/debrief/${attempt}`)
  await page.getByRole('button', { name: 'Take a job that practises this' }).click()
  await page.waitForURL(/\/bench\//)
  await expect(page.getByRole('link', { name: 'Hand over' })).toBeVisible()

  // The record: squares with the jobs behind them, and the lines of an outside standard.
  await signIn(page, 'tomasa')
  await page.goto('/standard')
  const title = `Trade paper ${Date.now()}`
  await page.getByLabel('Name of the standard').fill(title)
  const lines = 'code,text,skills\nE1,Works safely with fuel,safety/fuel\nE2,Reads what is there,singing\n'
  const choose = (csv: string) => page.locator('input[type=file]').setInputFiles({ name: 's.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) })
  await choose(lines)
  await expect(page.getByRole('alert').getByText(/singing/)).toBeVisible()
  await choose(lines.replace('singing', 'readings'))
  await expect(page.getByLabel('Code').nth(1)).toHaveValue('E2')
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(page.getByText('It is kept.')).toBeVisible()
  await signIn(page, 'juno')
  await page.getByRole('link', { name: 'My record' }).click()
  await page.getByRole('button', { name: /^Safety on Fuel: \d+ of 100/ }).click()
  const behind = page.getByRole('heading', { name: 'Behind Safety on Fuel' }).locator('..')
  await expect(behind.getByRole('listitem').first()).toContainText('Lift pump LP-2')
  await expect(page.getByRole('region', { name: title }).getByText('0 of 1 shown')).toBeVisible()
  await expect(page.getByText('Good eyes at the jet.')).toBeVisible()
  const paper = (await page.pdf({ format: 'A4', printBackground: true })).toString('latin1')
  expect((paper.match(/\/Type\s*\/Page\b/g) ?? []).length, 'a record is printed on no more than two pages').toBeLessThanOrEqual(2)
  const csv = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Save as CSV' }).click()
  expect((await csv).suggestedFilename()).toBe('record.csv')
  // The same as statements, held against the rules of xAPI by somebody else's reading of them.
  const statements = await page.evaluate(async () => (await fetch(`/api${location.pathname.replace(/record$/, 'statements')}`)).json())
  expect(statements.length).toBeGreaterThan(0)
  for (const s of statements) expect(xapi(s)).toEqual([])
  expect(xapi({ ...statements[0], timestamp: 'yesterday' })).not.toEqual([])
  await page.setViewportSize({ width: 390, height: 844 })
  await noSideScroll(page)
})
