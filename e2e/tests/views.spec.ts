import AxeBuilder from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { Bench, setJob, signIn } from '../bench.ts'

const words = 'Stopped by the sluice, and nobody touched it.'

async function accessible(page: Page, what: string) {
  // Colours are judged at rest, not half-way through a change.
  await page.waitForTimeout(1100)
  const found = await new AxeBuilder({ page }).options({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'], resultTypes: ['violations'] }).analyze()
  expect(found.violations.map((v) => `${what}: ${v.id}: ${v.nodes.map((n) => n.target).join(' | ')}`)).toEqual([])
}

async function noSideScroll(page: Page) {
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true)
}

test('every main view is accessible, by day and by night, and the bench needs no page scroll', async ({ page }) => {
  test.setTimeout(400_000)
  await page.goto('/sign-in')
  await accessible(page, 'sign-in')
  await signIn(page, 'tomasa')
  await setJob(page, { reach: 'Kill circuit', fault: 'Stop switch left in STOP', claim: 'It does not start', words, to: 'Ines Calder', mode: 'guided' })
  await accessible(page, 'yard')
  await page.goto('/inside')
  await expect(page.getByRole('img', { name: /^Cutaway/ })).toBeVisible()
  await accessible(page, 'inside')
  await page.goto('/aids')
  await expect(page.getByRole('article', { name: 'Units' })).toContainText('427')
  await accessible(page, 'job aids')
  await page.goto('/yard/new-job')
  await expect(page.getByText('What an apprentice will find')).toBeVisible()
  await accessible(page, 'job desk')

  await signIn(page, 'ines')
  await accessible(page, 'jobs')
  const b = new Bench(page)
  await b.open(words)
  await b.run('Try to start it')
  await b.fit('Step out the spark gap')
  await b.press('Pull')
  await b.at('Tank')
  await b.press('Suspect')
  await b.at('Line')
  await page.getByRole('button', { name: 'Flows', exact: true }).click()
  await b.at('Jets')
  await b.press('Condemn')
  await accessible(page, 'bench, day')
  expect(await page.evaluate(() => document.documentElement.scrollHeight <= innerHeight), 'no page scroll at 1280x800').toBe(true)
  await page.getByRole('button', { name: 'Night shift' }).click()
  await accessible(page, 'bench, night')
  await page.keyboard.press('a')
  await expect(page.getByRole('dialog', { name: 'Job aids' }).getByRole('article').first()).toBeVisible()
  await accessible(page, 'job aids at the bench')
  await page.keyboard.press('Escape')
  await page.keyboard.press('?')
  await expect(page.getByRole('heading', { name: 'Shortcuts' })).toBeVisible()
  await accessible(page, 'shortcuts')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'What tells most?' }).click()
  await expect(page.getByText(/takes \d+ % off/).first()).toBeVisible()
  await accessible(page, 'guided tray')
  for (const tab of ['Work', 'Covers', 'Care', 'Wait']) {
    await page.getByRole('tab', { name: tab }).click()
    await accessible(page, `tray: ${tab}`)
  }
  await page.getByRole('link', { name: 'Hand over' }).click()
  await expect(page.getByText('The board as you leave it')).toBeVisible()
  await accessible(page, 'hand-over')
  await page.getByLabel(/^Part/).selectOption('kill-circuit')
  await page.getByRole('radio', { name: 'Refer on' }).click()
  await page.getByRole('button', { name: 'Hand over and read the debrief' }).click()
  await page.waitForURL(/\/debrief\//)
  await expect(page.getByText('What each minute taught')).toBeVisible()
  await accessible(page, 'debrief, night')
  await page.getByRole('button', { name: 'Day shift' }).click()
  await accessible(page, 'debrief, day')
})

test('the board is worked by keyboard alone, and read as a list', async ({ page }) => {
  await signIn(page, 'tomasa')
  const line = 'Keys only, please.'
  await setJob(page, { reach: 'Rings, bore', fault: 'Piston rings worn', severity: 0.9, claim: 'It does not start', words: line, to: 'Ines Calder' })
  await signIn(page, 'ines')
  await new Bench(page).open(line)
  await page.keyboard.press('b')
  await expect(page.getByRole('button', { name: 'Tank, undecided' })).toBeFocused()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('s')
  await expect(page.getByRole('button', { name: 'Cap vent, suspect' })).toBeFocused()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('End')
  await expect(page.getByRole('button', { name: 'Muffler, arrestor, undecided' })).toBeFocused()
  await page.keyboard.press('Shift+F')
  await expect(page.getByRole('button', { name: 'Air filter, flows, proved' })).toBeVisible()
  await expect(page.getByText('1 of 4')).toBeVisible()
  await page.keyboard.press('u')
  await expect(page.getByRole('button', { name: 'Muffler, arrestor, undecided' })).toBeFocused()
  await page.keyboard.press('?')
  await expect(page.getByRole('heading', { name: 'Shortcuts' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('group', { name: 'Fuel', exact: true }).getByRole('listitem')).toHaveCount(9)
})

test('phone and tablet: the board stands up, nothing is cut off, targets fit a thumb', async ({ page }) => {
  await signIn(page, 'ines')
  await new Bench(page).open('Stood in the pump house')
  for (const [width, height] of [[390, 844], [1024, 768]]) {
    await page.setViewportSize({ width, height })
    await noSideScroll(page)
    const small = await page.locator('.bench button:visible, .bench select:visible, .bench input:visible, .bench a:visible').evaluateAll((all) =>
      all.map((e) => ({ name: e.textContent?.trim() || e.getAttribute('aria-label'), r: e.getBoundingClientRect() })).filter((x) => x.r.height < 43.5 || x.r.width < 24).map((x) => `${x.name} ${x.r.width}x${x.r.height}`),
    )
    expect(small, `at ${width}`).toEqual([])
  }
  await page.setViewportSize({ width: 390, height: 844 })
  await accessible(page, 'bench on a phone')
  const tank = await page.getByRole('button', { name: /^Tank, / }).boundingBox()
  const vent = await page.getByRole('button', { name: /^Cap vent, / }).boundingBox()
  expect(vent!.y).toBeGreaterThan(tank!.y + 30)
  for (const path of ['/jobs', '/sign-in']) {
    await page.goto(path)
    await noSideScroll(page)
    await accessible(page, `${path} on a phone`)
  }
})
