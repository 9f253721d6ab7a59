import AxeBuilder from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { Bench, noSideScroll, pick, setJob, signIn, told, inWords } from '../bench.ts'

async function accessible(page: Page) {
  await inWords(page)
  const found = await new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).analyze()
  expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target).join(' | ')}`)).toEqual([])
}

/** The figures of what the draft comes to, as they stand. */
const figures = (page: Page) => page.getByRole('region', { name: 'What it comes to' }).getByRole('definition').allTextContents()
const stepAt = (page: Page, n: number) => page.getByRole('button', { name: new RegExp(`^Step ${n} of`) })
const kept = (page: Page) => expect(page.locator('.kept')).toHaveText('saved')

async function fromSchool(page: Page, school: string) {
  await page.goto('/yard/procedures')
  await pick(page, 'Machine', 'Lift pump LP-2')
  await page.getByRole('button', { name: school, exact: true }).click()
  await page.waitForURL(/procedures\/.+/)
  await expect(page.getByText(/named right/)).toBeVisible()
}

test('a school is opened, a step moved, a better order taken, and the page given out and carried elsewhere', async ({ page }) => {
  await signIn(page, 'tomasa')
  await fromSchool(page, 'Dose first')
  const was = await figures(page)
  const second = await stepAt(page, 2).textContent()

  // By pointer: the second step goes down two places, and the figures follow.
  const grip = page.locator('.steps .grip').nth(1)
  const to = (await page.locator('.steps li').nth(3).boundingBox())!
  const from = (await grip.boundingBox())!
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2)
  await page.mouse.down()
  await page.mouse.move(from.x + 8, from.y + 30, { steps: 6 })
  await page.mouse.move(from.x + 8, to.y + to.height - 6, { steps: 12 })
  await page.mouse.up()
  await expect(stepAt(page, 4)).toContainText(second!.replace(/^\d+/, ''))
  await expect.poll(() => figures(page)).not.toEqual(was)
  // By keyboard it goes back, and Undo and Redo go through all of it.
  await stepAt(page, 4).focus()
  await page.keyboard.press('Alt+ArrowUp')
  await page.keyboard.press('Alt+ArrowUp')
  await expect(stepAt(page, 2)).toContainText(second!.replace(/^\d+/, ''))
  await expect.poll(() => figures(page)).toEqual(was)
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('aria-disabled', 'true')
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Redo' }).click()
  await expect.poll(() => figures(page)).toEqual(was)

  // A band of a number is set by its edge, on the instrument's own scale.
  await page.getByRole('button', { name: /^Step \d+ of .*Compression, dry/ }).click()
  const scale = page.getByRole('group', { name: /^The reading’s scale/ })
  await expect(scale).toBeVisible()
  await page.getByRole('button', { name: 'Add a band' }).click()
  await page.getByLabel('To under').fill('40')
  const edge = scale.getByRole('slider')
  const before = Number(await edge.getAttribute('aria-valuenow'))
  const knob = (await edge.locator('circle').boundingBox())!
  await page.mouse.move(knob.x + 4, knob.y + 4)
  await page.mouse.down()
  await page.mouse.move(knob.x - 30, knob.y + 30, { steps: 8 })
  await page.mouse.up()
  const dragged = Number(await edge.getAttribute('aria-valuenow'))
  expect(dragged).toBeLessThan(before)
  await expect(page.getByLabel('To under')).toHaveValue(String(dragged))
  await edge.focus()
  await page.keyboard.press('ArrowRight')
  expect(Number(await edge.getAttribute('aria-valuenow'))).toBeGreaterThan(dragged)
  await expect(page.getByRole('button', { name: /^under \d+ → go on [\d.]+ of \d+/ })).toBeVisible()
  await page.getByLabel('To under').fill('')
  await expect(edge).toHaveCount(0)
  const undo = page.getByRole('button', { name: 'Undo' })
  while (await page.getByRole('button', { name: /^(Say when|under|below)/ }).count()) await undo.click()
  await expect.poll(() => figures(page)).toEqual(was)

  // A better order is found, taken, and taken back by one press each.
  const offer = page.getByRole('region', { name: 'Better orders' }).getByRole('button', { name: /min less/ }).first()
  await expect(offer).toBeVisible({ timeout: 30_000 })
  const steps = await page.locator('.steps li').count()
  await offer.click()
  await expect(page.getByText(/^Taken:/)).toBeVisible()
  await expect.poll(() => figures(page)).not.toEqual(was)
  await page.getByRole('button', { name: 'Take back' }).click()
  await expect(page.locator('.steps li')).toHaveCount(steps)
  await expect.poll(() => figures(page)).toEqual(was)

  // What is typed outlives a reload; a title is one change.
  await page.getByLabel('Title').fill('Dose first, as we teach it')
  await kept(page)
  await page.reload()
  await expect(page.getByLabel('Title')).toHaveValue('Dose first, as we teach it')
  await page.getByRole('button', { name: 'Give out revision 1' }).click()
  await expect(page.getByText('Revision 1 is given out. It will not change.')).toBeVisible()

  await inWords(page)
  // The desk goes onto a phone: nothing is over its edge.
  await page.setViewportSize({ width: 390, height: 844 })
  await noSideScroll(page)
  await page.setViewportSize({ width: 1280, height: 800 })
  // The page is one side of A4 and of Letter.
  await page.getByRole('button', { name: 'Page', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Dose first, as we teach it', exact: true })).toBeVisible()
  for (const format of ['A4', 'Letter'] as const) {
    const paper = (await page.pdf({ format, printBackground: true, margin: { top: '9mm', bottom: '9mm', left: '12mm', right: '12mm' } })).toString('latin1')
    expect(paper.match(/\/Type\s*\/Page\b/g), format).toHaveLength(1)
  }
  await page.getByRole('button', { name: 'Heat table' }).click()
  await expect(page.getByRole('rowheader', { name: 'Main jet blocked' })).toBeVisible()

  // As a pack it goes out, and comes in again as a draft of its own.
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'More', exact: true }).click().then(() => page.getByText('Save as a pack').click()),
  ])
  const pack = await download.path()
  await page.goto('/yard/procedures')
  await page.getByLabel('Bring in a pack (JSON)').first().setInputFiles(pack)
  await expect(page.getByText(/^1 came in from/)).toBeVisible()
  await expect(page.getByRole('link', { name: 'Open Dose first, as we teach it' })).toHaveCount(2)
  await page.getByLabel('Bring in a pack (JSON)').first().setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{"format":"moon"}') })
  await expect(page.getByRole('alert')).toContainText(/format/)
  await expect(page.getByRole('link', { name: /^Open / })).toHaveCount(2)
})

test('two write on one draft: both are told, and neither loses a word', async ({ page, context }) => {
  await signIn(page, 'tomasa')
  await fromSchool(page, 'Look first')
  const other = await context.newPage()
  await other.goto(page.url())
  await expect(other.getByText(/named right/)).toBeVisible()
  await page.getByLabel('Title').fill('Of the first')
  await kept(page)
  await other.getByLabel('Title').fill('Of the second')
  await expect(other.getByText('Somebody else has changed this procedure')).toBeVisible()
  await other.getByRole('button', { name: 'Take theirs' }).click()
  await expect(other.getByLabel('Title')).toHaveValue('Of the first')
  await other.getByRole('button', { name: 'Undo' }).click()
  await expect(other.getByLabel('Title')).toHaveValue('Of the second')
  await kept(other)
  await page.getByLabel('Title').fill('Of the first, again')
  await page.getByRole('button', { name: 'Keep mine as a copy' }).click()
  await expect(page.getByLabel('Title')).toHaveValue('Of the first, again, copy')
  await page.goto('/yard/procedures')
  for (const title of ['Of the second', 'Of the first, again, copy']) await expect(page.getByRole('heading', { name: title, exact: true })).toBeVisible()

  // An empty page says what to do; a step that cannot be made says why, and nothing is given out.
  await page.getByRole('button', { name: 'An empty page' }).click()
  await expect(page.getByText('No step yet.')).toBeVisible()
  await pick(page, 'Add a step', 'Look at the fuel')
  await expect(stepAt(page, 1)).toContainText('Look at the fuel')
  await expect(page.getByRole('heading', { name: /100 left open/ })).toBeVisible()
  await page.getByRole('button', { name: /^Otherwise/ }).click()
  await pick(page.getByRole('region', { name: 'The step in focus' }), 'Then', 'it is found')
  await expect(page.getByText(/nothing is concluded/i).first()).toBeVisible()
})

test('a page is planned, and can be stopped on the way', async ({ page }) => {
  await signIn(page, 'tomasa')
  await page.goto('/yard/procedures')
  await pick(page, 'Machine', 'Lift pump LP-2')
  await page.getByRole('button', { name: 'Plan a page' }).click()
  await page.getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByRole('button', { name: 'Plan a page' })).toBeVisible()
  await page.getByLabel('Most steps').fill('3')
  await page.getByRole('button', { name: 'Plan a page' }).click()
  await page.waitForURL(/procedures\/.+/, { timeout: 60_000 })
  await expect(page.getByLabel('Title')).toHaveValue('Planned: It does not start')
  await expect(page.getByText(/named right/)).toBeVisible()
  expect(await page.locator('.steps li').count()).toBeLessThanOrEqual(3)
})

test('a page is given with a job, followed at the bench, left for a reason, and come back to', async ({ page }) => {
  const words = told('Dead at the gate, and the page in hand.')
  await signIn(page, 'tomasa')
  await fromSchool(page, 'Look first')
  await page.getByLabel('Title').fill('Look first, for the gate')
  await page.getByRole('button', { name: 'Give out revision 1' }).click()
  await expect(page.getByText('Revision 1 is given out.')).toBeVisible()
  await setJob(page, {
    reach: 'Jets',
    fault: 'Main jet blocked',
    severity: 1,
    claim: 'It does not start',
    words,
    to: 'Juno Pask',
    page: 'Look first, for the gate, revision 1',
  })
  await signIn(page, 'juno')
  const b = new Bench(page)
  await b.open(words)
  const follow = page.getByRole('region', { name: 'The page that is followed' })
  await expect(follow).toContainText('step 1 of')
  await expect(follow).toContainText('Look at the switches')
  await follow.getByRole('button', { name: 'Take it up' }).click()
  await b.press('Look')
  await expect(follow).toContainText('step 2 of')
  // Something else is seen: one press leaves it, with a reason, and another comes back.
  await follow.getByRole('button', { name: 'Leave the page' }).click()
  await b.done(() => page.getByText('I have seen something that it does not ask for').click())
  await expect(follow).toContainText('You have left the page')
  await b.run('Look at the oil', 'Look')
  await b.call('at mark')
  await b.done(() => follow.getByRole('button', { name: 'Back to the page' }).click())
  await expect(follow).toContainText('step 2 of')
  await page.reload()
  await expect(follow).toContainText('step 2 of')
  // With a page at hand, too, all of the bench is in sight on a screen and on a tablet, and a phone shows the page first.
  await page.getByRole('button', { name: 'Leave', exact: true }).click()
  for (const [width, height] of [[1280, 800], [820, 1180]]) {
    await page.setViewportSize({ width, height })
    for (const part of ['.board-panel', '.tray', 'section.hand', '.ledger', '.machine', '.controls', '.follow'])
      await expect(page.locator(part), `${part} at ${width}`).toBeInViewport({ ratio: 1 })
    const over = await page.locator('.board-panel, .follow').evaluateAll((all) => all.map((e) => e.scrollHeight - e.clientHeight))
    expect(Math.max(...over), `at ${width}`).toBeLessThanOrEqual(2)
  }
  await page.setViewportSize({ width: 390, height: 844 })
  await expect(follow).toBeInViewport({ ratio: 1 })
  await noSideScroll(page)
  await page.setViewportSize({ width: 1280, height: 800 })
  const lines = page.locator('.ledger li')
  await expect(lines.first().locator('.step')).toHaveText('1')
  await expect(lines.nth(1).locator('.step')).toHaveCount(0)
})

test('the yard’s own minutes are set, and what a page comes to follows', async ({ page }) => {
  await signIn(page, 'tomasa')
  await fromSchool(page, 'Look first')
  const minutes = async () => Number(/(\d+) minutes expected/.exec((await page.getByText(/minutes expected/).textContent())!)![1])
  const was = await minutes()
  const desk = page.url()
  await page.goto('/yard/procedures')
  await page.getByRole('link', { name: 'Our own figures' }).click()
  await page.getByLabel('Find', { exact: true }).fill('switches')
  await page.getByLabel('Look at the switches, our own').fill('20,5')
  await accessible(page)
  await page.setViewportSize({ width: 390, height: 844 })
  for (const of of ['Covers', 'Faults', 'Tests']) {
    await page.getByRole('button', { name: of, exact: true }).click()
    await noSideScroll(page)
  }
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.reload()
  await page.getByLabel('Find', { exact: true }).fill('switches')
  await expect(page.getByLabel('Look at the switches, our own')).toHaveValue('20.5')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByText('Kept. What is worked out')).toBeVisible()
  await page.goto(desk)
  await expect.poll(minutes).toBe(was + 20)
  await page.goto('/yard/figures')
  await page.getByLabel('Find', { exact: true }).fill('switches')
  await page.getByLabel('Look at the switches, our own').fill('')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(page.getByText('Kept. What is worked out')).toBeVisible()
})
