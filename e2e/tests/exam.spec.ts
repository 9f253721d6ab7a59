import { expect, test, type Browser, type Page } from '@playwright/test'
import { inWords, noSideScroll, pick, signIn } from '../bench.ts'

const another = async (browser: Browser) => (await browser.newContext({ viewport: { width: 1180, height: 820 } })).newPage()
const hand = (page: Page) => page.getByRole('region', { name: 'By hand' })

/** Takes a test on a real engine. */
async function choose(page: Page, name: string) {
  await page.getByRole('tab', { name: 'Tests' }).click()
  await page.getByLabel('Find a test').fill(name)
  await page.getByRole('button', { name: new RegExp(`^${name}`) }).first().click()
}

// The exam of the demo yard: a turn is over, eight people rotate over four engines.
test('a practical exam: the plan, a turn on the tablet, a sheet typed in, marked, signed off, set again', async ({ page, browser }) => {
  test.setTimeout(360_000)
  test.skip(test.info().retry > 0, 'a turn is taken once')
  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'Engines' }).click()
  await page.getByRole('link', { name: 'Practical exams' }).click()
  await page.getByRole('link', { name: /Autumn exam/ }).click()
  const plan = page.getByRole('region', { name: 'Plan' })
  await expect(plan.getByRole('row')).toHaveCount(9)
  await expect(plan.getByRole('link', { name: /handed over$/ }), 'the turn that is over is marked while nobody waits').toHaveCount(1, { timeout: 150_000 })
  await expect(plan.getByText('ready for the next one')).toHaveCount(1)
  await inWords(page)
  await noSideScroll(page)
  const exam = page.url()

  // Sheets for all of it, printed: who, on which engine.
  await page.getByRole('link', { name: 'Sheets on paper' }).click()
  await page.getByRole('button', { name: 'Print them' }).waitFor()
  await expect(page.getByText(/^Teo Marsh/)).toHaveCount(4)
  await expect(page.getByRole('heading', { name: 'Board: F flows, S suspect, C condemned' })).toHaveCount(32)

  // Round 3: Teo at the gate hoist, on the tablet.
  const teo = await another(browser)
  await signIn(teo, 'teo')
  await expect(teo.getByText(/^Round 3 of “Autumn exam at the benches”/)).toBeVisible()
  await teo.getByRole('link', { name: /Gate hoist GH-1/ }).first().click()
  await choose(teo, 'Measure the plug gap')
  for (const done of await hand(teo).getByRole('checkbox').all()) await done.check()
  await hand(teo).getByRole('textbox', { name: 'Reading' }).fill('0.7')
  await hand(teo).getByRole('button', { name: 'mm', exact: true }).click()
  await hand(teo).getByRole('button', { name: 'In band' }).click()
  await hand(teo).getByRole('button', { name: 'Write it down' }).click()
  await expect(teo.getByRole('region', { name: 'Ledger' }).getByText('0.7 mm')).toBeVisible()
  // A slip of the pen, put right before anything else is done.
  await hand(teo).getByRole('button', { name: 'Put it right' }).click()
  await hand(teo).getByRole('textbox', { name: 'Reading' }).fill('0.07')
  await hand(teo).getByRole('button', { name: 'Below' }).click()
  await hand(teo).getByRole('button', { name: 'Write it down' }).click()
  await expect(teo.getByRole('region', { name: 'Ledger' }).getByText('0.07 mm')).toBeVisible()
  await page.goto(exam)
  await expect(plan.getByRole('link', { name: 'Teo Marsh at work' })).toBeVisible()
  // Nothing of it is started, or handed back, before it is signed for.
  await plan.getByRole('link', { name: 'Gate hoist GH-1' }).click()
  await expect(page.getByText('Teo Marsh has it.')).toBeVisible()
  await page.getByRole('textbox', { name: 'Your initials' }).fill('TR')
  for (const item of ['First start', 'Hand-back', 'Plug threaded in by hand']) await page.getByRole('button', { name: `Sign: ${item}` }).click()
  await expect(page.getByText('TR, Tomasa Reyl')).toHaveCount(3)
  await choose(teo, 'Try to start it')
  for (const done of await hand(teo).getByRole('checkbox').all()) await done.check()
  await hand(teo).getByRole('button', { name: 'No fire' }).click()
  await hand(teo).getByRole('button', { name: 'Write it down' }).click()
  await expect(teo.getByRole('region', { name: 'Ledger' }).getByText('no fire')).toBeVisible()
  await teo.getByRole('link', { name: 'Hand over' }).click()
  const finding = teo.getByRole('region', { name: 'Finding 1' })
  await pick(finding, 'Part', 'Plug')
  await pick(finding, 'What is wrong with it', 'Plug gap wrong')
  await teo.getByRole('button', { name: 'Refer on' }).click()
  await teo.getByRole('button', { name: /^Hand over/ }).last().click()
  await expect(teo.getByText(/not be read|can be read|from/i).first()).toBeVisible()

  // What somebody wrote on paper is typed in by who teaches, and handed over.
  await page.goto(exam)
  await plan.getByRole('link', { name: 'Oskar Tirell not begun' }).first().click()
  await page.getByRole('button', { name: 'Type the sheet in' }).click()
  await expect(page.getByRole('button', { name: 'Tie the bar' }), 'nobody has signed for it').toHaveAttribute('aria-disabled', 'true')
  await choose(page, 'Look it over')
  await hand(page).getByRole('button', { name: /weeps/i }).click()
  await hand(page).getByRole('button', { name: 'Write it down' }).click()
  await expect(page.getByRole('region', { name: 'Ledger' }).getByText(/weeps/i)).toBeVisible()

  // Teo's turn is marked, read and signed off; it stands in the record.
  await page.goto(exam)
  const came = page.getByRole('region', { name: 'What it came to' })
  const row = came.getByRole('row', { name: /^Teo Marsh/ })
  await expect(row.getByRole('link', { name: /of 100/ })).toHaveCount(1, { timeout: 30_000 })
  await row.getByRole('link', { name: /of 100/ }).first().click()
  await expect(page.getByRole('region', { name: 'Verdict' })).toContainText('Plug gap wrong')
  await page.getByRole('button', { name: 'Sign off' }).click()
  await expect(page.getByText('Not signed off yet')).toHaveCount(0)
  await page.goto(exam)
  await expect(row.getByText('signed off')).toBeVisible()

  // The engine is set again for the next one, and only as it was.
  await expect(plan.getByText('to be set again')).toHaveCount(1)
  await plan.getByRole('link', { name: 'Gate hoist GH-1' }).click()
  await page.getByRole('button', { name: 'Set it again for the next one' }).click()
  const group = page.getByRole('group', { name: 'With the fault' })
  const gap = async (mm: string) => {
    await pick(group, 'Test', 'Measure the plug gap')
    await group.getByRole('textbox', { name: 'Reading' }).fill(mm)
    await group.getByRole('button', { name: 'mm', exact: true }).click()
    await group.getByRole('button', { name: 'Add this reading' }).click()
  }
  await gap('0.7')
  await page.getByRole('checkbox', { name: 'The symptom is there' }).check()
  await page.getByRole('button', { name: 'Ready for the next one' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'reads otherwise' })).toBeVisible()
  await group.getByRole('button', { name: 'Take out' }).click()
  await gap('0.07')
  await page.getByRole('button', { name: 'Ready for the next one' }).click()
  await page.goto(exam)
  await expect(plan.getByText('to be set again')).toHaveCount(0)
})
