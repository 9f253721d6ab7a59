import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { acts, noSideScroll, setJob, signIn, told } from '../bench.ts'

/** A name that no other run of the test has used. */
const stamp = Date.now().toString(36)

test('a roster in, a class, sign-in sheets, the first sign-in, and the roster out again', async ({ page, browser }) => {
  test.setTimeout(120_000)
  await signIn(page, 'wenda')
  await expect(page.getByRole('heading', { name: 'People' })).toBeVisible()
  await expect(page.getByRole('row', { name: /Ines Calder.*Morning bench.*their own/ })).toBeVisible()

  // A list with one wrong row: it is said where, and nothing is taken in.
  await page.getByRole('link', { name: 'Roster in' }).click()
  const list = (role: string) => `\uFEFFname;role;class;sign_in\nKit ${stamp};;Evening ${stamp};kit-${stamp}\nOda ${stamp};${role};Evening ${stamp};oda-${stamp}\n`
  const choose = (text: string) =>
    page.locator('input[type=file]').setInputFiles({ name: 'list.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await choose(list('boss'))
  await expect(page.getByRole('row', { name: /line 3.*wrong.*boss/ })).toBeVisible()
  await page.getByRole('button', { name: 'Take it in' }).hover()
  await expect(page.getByText('Put the wrong rows right in the file').first()).toBeVisible()
  await choose(list('instructor'))
  await expect(page.getByText('Nothing is wrong. This would happen:')).toBeVisible()
  await page.getByRole('button', { name: 'Take it in' }).click()
  await expect(page.getByText('It is taken in.')).toBeVisible()
  await choose(list('instructor'))
  await expect(page.getByText('Nothing would change').first()).toBeVisible()

  await page.getByRole('link', { name: 'To the people' }).click()
  await page.getByRole('option', { name: new RegExp(`Evening ${stamp}.*Oda ${stamp}`) }).click()
  const kit = page.getByRole('row', { name: new RegExp(`Kit ${stamp}.*none yet`) })
  await expect(kit).toBeVisible()

  // Somebody is changed by hand; what is typed outlives a reload.
  await kit.getByRole('button', { name: `Change Kit ${stamp}` }).click()
  await page.getByRole('dialog').getByLabel('Name', { exact: true }).fill(`Kitty ${stamp}`)
  await page.reload()
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click()
  const kitty = page.getByRole('row', { name: new RegExp(`Kitty ${stamp}`) })
  await expect(kitty).toBeVisible()

  await kitty.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Sign-in sheets' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Sign-in sheets' }).click()
  const sheet = page.getByRole('list', { name: 'Sign-in sheets' }).getByRole('listitem')
  await expect(sheet).toHaveCount(1)
  const password = await sheet.getByRole('definition').nth(1).innerText()
  await page.emulateMedia({ media: 'print' })
  await expect(page.getByRole('button', { name: 'Print' })).toBeHidden()
  await page.emulateMedia({ media: 'screen' })

  // Who came with a sheet chooses a password first, whatever they open.
  const other = await (await browser.newContext()).newPage()
  await other.goto('/sign-in')
  await other.getByLabel('Name').fill(`kit-${stamp}`)
  await other.getByLabel('Password').fill(password)
  await other.getByRole('button', { name: 'Sign in' }).click()
  await expect(other.getByRole('heading', { name: 'A password of your own' })).toBeVisible()
  await other.goto('/jobs')
  await expect(other.getByRole('heading', { name: 'A password of your own' })).toBeVisible()
  await other.getByLabel('The password from the sheet').fill(password)
  await other.getByLabel('New password', { exact: true }).fill('short')
  await other.getByLabel('New password once more').fill('short')
  await other.getByRole('button', { name: 'Keep it' }).click()
  await expect(other.getByRole('alert').filter({ hasText: 'shorter than' })).toBeVisible()
  await other.getByLabel('New password', { exact: true }).fill('seven gates at dawn')
  await other.getByLabel('New password once more').fill('seven gates at dawn')
  await other.getByRole('button', { name: 'Keep it' }).click()
  await expect(other.getByRole('heading', { name: 'My jobs' })).toBeVisible()

  await page.getByRole('button', { name: 'Done, they are handed out' }).click()
  await expect(page.getByRole('row', { name: new RegExp(`Kitty ${stamp}.*their own`) }).or(page.getByRole('row', { name: new RegExp(`Kitty ${stamp}`) }))).toBeVisible()
  const saved = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Roster out' }).click()
  const file = readFileSync(await (await saved).path())
  expect(file.subarray(0, 2).toString()).toBe('PK')
  await page.setViewportSize({ width: 390, height: 844 })
  await noSideScroll(page)
})

test('an instructor makes a class and fills it, and may change apprentices alone', async ({ page }) => {
  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'People' }).click()
  await expect(page.getByRole('link', { name: 'Roster in' })).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Change Benna Loft' })).toHaveCount(0)
  await page.getByRole('button', { name: 'New class' }).click()
  const form = page.getByRole('dialog')
  await form.getByLabel('Name of the class').fill(`Field day ${stamp}`)
  await form.getByRole('combobox', { name: 'Term' }).fill(`Spring ${stamp}`)
  await form.getByLabel('First day').fill('2027-02-01')
  await form.getByLabel('Last day').fill('2027-01-01')
  await form.getByRole('combobox', { name: 'Who is in it' }).fill('Juno')
  await page.getByRole('option', { name: /Juno Pask/ }).click()
  await page.keyboard.press('Tab')
  await form.getByRole('button', { name: 'Keep' }).click()
  await expect(form.getByText(/before it begins/)).toBeVisible()
  await form.getByLabel('Last day').fill('2027-06-30')
  await form.getByRole('button', { name: 'Keep' }).click()
  await page.getByRole('option', { name: new RegExp(`Field day ${stamp}`) }).click()
  await expect(page.getByRole('row', { name: /Juno Pask/ })).toBeVisible()
  await expect(page.getByRole('row', { name: /Ines Calder/ })).toHaveCount(0)
})

test('a job given to a class in one act, and how far each has come', async ({ page }) => {
  test.setTimeout(120_000)
  const words = told('Runs while the choke is on.')
  await signIn(page, 'tomasa')
  await setJob(page, {
    reach: 'Jets', fault: 'Main jet blocked', severity: 0.6, claim: 'It runs only with the choke on', words, to: 'Rafi Onwell', toClass: 'Morning bench',
  })
  const work = page.getByRole('region', { name: 'Given to the class' })
  await expect(work.getByRole('columnheader', { name: new RegExp(words) })).toBeVisible()
  const cell = (who: string) => work.getByRole('link', { name: new RegExp(`^${who}, `) }).first()
  for (const who of ['Ines Calder', 'Juno Pask', 'Rafi Onwell']) await expect(cell(who)).toHaveAccessibleName(/not begun$/)
  const attempt = (await cell('Rafi Onwell').getAttribute('href'))!.split('/').pop()!
  await signIn(page, 'rafi')
  await acts(page, attempt, [{ kind: 'take', test: 'start-attempt' }])
  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'People' }).click()
  await page.getByRole('option', { name: /^Morning bench/ }).click()
  await page.getByRole('link', { name: 'Work of the class' }).click()
  await expect(cell('Rafi Onwell')).toHaveAccessibleName(/at work$/)
  // Handed over with something else named, it is in what the class gets wrong.
  await signIn(page, 'rafi')
  await page.evaluate(async (a) => {
    const hand = { findings: [{ reach: 'coil', filing: 'root' }], verdict: 'refer-on', proof_seq: -1 }
    await fetch(`/api/attempts/${a}/hand-over`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(hand) })
  }, attempt)
  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'People' }).click()
  await page.getByRole('option', { name: /^Morning bench/ }).click()
  await page.getByRole('link', { name: 'Work of the class' }).click()
  await expect(cell('Rafi Onwell')).toHaveAccessibleName(/to be reviewed$/, { timeout: 30_000 })
  await page.getByRole('link', { name: 'What it gets wrong' }).click()
  await expect(page.getByRole('region', { name: 'Teach next' }).getByRole('listitem').filter({ hasText: 'Tell Coil from Jets' })).toBeVisible()
  await expect(page.getByRole('cell', { name: /^Jets taken for Coil: [1-9]/ })).toBeVisible()
  await page.setViewportSize({ width: 390, height: 844 })
  await noSideScroll(page)
})
