import AxeBuilder from '@axe-core/playwright'
import { expect, test, type Page } from '@playwright/test'
import { Bench, setJob, signIn, pick, noSideScroll, inWords } from '../bench.ts'

// They are long, and none needs another.
test.describe.configure({ mode: 'parallel' })

const words = 'Stopped by the sluice, and nobody touched it.'

async function accessible(page: Page, what: string) {
  expect(await violations(page, what)).toEqual([])
}

/** What breaks the rules of a page. */
async function violations(page: Page, what: string) {
  // Colours are judged at rest, not half-way through a change.
  await page.waitForTimeout(1100)
  const found = await new AxeBuilder({ page }).options({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'], resultTypes: ['violations'] }).analyze()
  await inWords(page)
  return found.violations.map((v) => `${what}: ${v.id}: ${v.nodes.map((n) => n.target).join(' | ')}`)
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
  await page.goto('/yard/procedures')
  await page.getByRole('button', { name: 'Look first', exact: true }).click()
  await expect(page.getByText(/named right/)).toBeVisible()
  await page.getByRole('button', { name: /^Step 5 of/ }).click()
  await accessible(page, 'procedure desk')
  await page.getByRole('button', { name: 'Night shift' }).click()
  await accessible(page, 'procedure desk, night')
  await page.getByRole('button', { name: 'Heat table' }).click()
  await accessible(page, 'heat table, night')
  await page.getByRole('button', { name: 'Day shift' }).click()
  await page.getByRole('button', { name: 'Page', exact: true }).click()
  await accessible(page, 'procedure page')
  await page.getByRole('button', { name: 'Ditch' }).click()
  await page.goto('/yard/procedures')
  await expect(page.getByRole('link', { name: /^Open / }).first()).toBeVisible()
  await accessible(page, 'procedures')

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
  await pick(page, 'Part', 'Kill circuit')
  await page.getByRole('button', { name: 'Refer on' }).click()
  await page.getByRole('button', { name: 'Hand over and read the debrief' }).click()
  await page.waitForURL(/\/debrief\//)
  await page.getByRole('button', { name: 'Open all' }).click()
  await expect(page.getByText('What each minute taught')).toBeVisible()
  await accessible(page, 'debrief, night')
  await page.getByRole('button', { name: 'Day shift' }).click()
  await accessible(page, 'debrief, day')
  const debrief = page.url()
  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'To review' }).click()
  await expect(page.getByRole('row', { name: /Ines Calder/ }).first()).toBeVisible()
  await accessible(page, 'to review')
  await page.goto(debrief)
  await page.getByRole('button', { name: 'Open all' }).click()
  await page.getByRole('button', { name: /^Change the marks/ }).first().click()
  await page.getByRole('button', { name: 'Outcome, second marker, resit' }).click()
  await accessible(page, 'debrief of a marker, day')
  await page.getByRole('button', { name: 'Night shift' }).click()
  await accessible(page, 'debrief of a marker, night')
})

test('every view of the office is accessible, by day and by night, and fits a phone', async ({ page }) => {
  test.setTimeout(400_000)
  await signIn(page, 'tomasa')
  const [klass, ines, engine, lesson] = await page.evaluate(async () => {
    const get = async (path: string) => (await fetch(path)).json()
    const c = (await get('/api/classes'))[0] as { id: string; members: { person: string; display_name: string }[] }
    const engines = (await get('/api/engines')) as { machine_id: string }[]
    const two = { id: crypto.randomUUID(), class_id: c.id, machine_id: (await get('/api/machines'))[0].id, test: 'plug-look', asked: { id: 'plug-cracked', severity: 0.8 } }
    const put = await fetch('/api/lessons', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(two) })
    if (!put.ok) throw new Error(await put.text())
    return [c.id, c.members.find((m) => m.display_name === 'Ines Calder')!.person, engines[0]?.machine_id, two.id]
  })
  await setJob(page, { reach: 'Kill circuit', fault: 'Stop switch left in STOP', claim: 'It does not start', words: `${words} Again.`, to: 'Rafi Onwell', toClass: 'Morning bench' })
  const views: [path: string, has: RegExp][] = [
    ['/people', /^Ines Calder$/],
    [`/classes/${klass}`, /^Ines Calder$/],
    [`/classes/${klass}/analysis`, /^What .* gets wrong$/],
    [`/classes/${klass}/floor`, /^Ines Calder$/],
    [`/people/${ines}/record`, /Ines Calder/],
    ['/standard', /^Outside standard/],
    ['/yard/engines', /^Engines$/],
    ['/yard/study', /^Reading study$/],
    ['/yard/figures', /^Our own figures$/],
    ['/inside', /^tank/],
    ['/lineup', /^Tan$/],
    [`/lesson/${lesson}`, /^Machine A$/],
  ]
  if (engine) views.push([`/yard/engines/${engine}`, /^Put a fault in$|^Bug card$/])
  const bad: string[] = []
  for (const shift of ['day', 'night']) {
    for (const [path, has] of views) {
      await page.goto(path)
      await expect(page.getByText(has).first()).toBeVisible()
      bad.push(...(await violations(page, `${path}, ${shift}`)))
    }
    if (shift === 'day') await page.getByRole('button', { name: 'Night shift' }).click()
  }
  await page.setViewportSize({ width: 390, height: 844 })
  for (const [path, has] of views) {
    await page.goto(path)
    await expect(page.getByText(has).first()).toBeVisible()
    if (await page.evaluate(() => document.documentElement.scrollWidth > innerWidth)) bad.push(`${path} scrolls sideways on a phone`)
  }
  await signIn(page, 'wenda')
  for (const path of ['/people/roster', '/audit', '/password']) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    bad.push(...(await violations(page, path)))
  }
  expect(bad).toEqual([])
})

/** Makes every word on the page a third longer, as another language may, and says what is then cut off or stands over the edge. */
function lengthened(page: Page) {
  return page.evaluate(() => {
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    const texts: Text[] = []
    while (walk.nextNode()) texts.push(walk.currentNode as Text)
    for (const t of texts) {
      const within = t.parentElement!
      if (!/[a-z]{2}/i.test(t.data) || within.closest('svg, script, style, option, .sr-only')) continue
      t.data = t.data.replace(/[A-Za-z]{3,}/g, (w) => w + w.slice(0, Math.ceil(w.length * 0.34)))
    }
    const bad: string[] = []
    if (document.documentElement.scrollWidth > innerWidth) bad.push('the page scrolls sideways')
    for (const t of texts) {
      const el = t.parentElement!
      if (!t.data.trim() || el.closest('svg, .sr-only, option') || !el.checkVisibility()) continue
      const hidden = (e: HTMLElement) => e.clientWidth <= 1 || getComputedStyle(e).clipPath.startsWith('inset') // for a screen reader alone
      const range = document.createRange()
      range.selectNodeContents(t)
      let why = range.getBoundingClientRect().right > innerWidth + 1 ? 'over the edge' : ''
      for (let e: HTMLElement | null = el; e && e !== document.body; e = e.parentElement) {
        const { overflowX } = getComputedStyle(e)
        if (hidden(e) || ['auto', 'scroll'].includes(overflowX)) {
          why = '' // it can be scrolled to
          break
        }
        if (['hidden', 'clip'].includes(overflowX) && e.scrollWidth > e.clientWidth + 1) why = `cut off by ${e.className}`
      }
      if (why) bad.push(`${why}: “${t.data.trim().slice(0, 60)}” in ${el.className || el.tagName}`)
    }
    return [...new Set(bad)]
  })
}

test('words a third longer are nowhere cut off', async ({ page }) => {
  test.setTimeout(200_000)
  const found: string[] = []
  const look = async (what: string) => found.push(...(await lengthened(page)).map((x) => `${what}: ${x}`))
  await page.goto('/sign-in')
  await look('sign-in')
  await signIn(page, 'tomasa')
  await expect(page.getByRole('heading', { name: 'Machines' })).toBeVisible()
  await look('yard')
  await page.goto('/yard/new-job')
  await page.getByRole('button', { name: 'Set the job' }).waitFor()
  await expect(page.getByText('the words are missing').or(page.getByText(/no fault is hidden/)).first()).toBeVisible()
  await look('job desk, with what is missing')
  await page.goto('/yard')
  await page.getByRole('link', { name: /Service sheet of/ }).first().click()
  await expect(page.getByText(/readings of a sound machine/)).toBeVisible()
  await look('service sheet')
  await page.goto('/aids')
  await expect(page.getByRole('article', { name: 'Units' })).toContainText('427')
  await look('job aids')
  await signIn(page, 'tomasa')
  await setJob(page, { reach: 'Kill circuit', fault: 'Stop switch left in STOP', claim: 'It does not start', words: 'It stood still, and the words were long.', to: 'Juno', mode: 'guided' })
  await signIn(page, 'juno')
  await expect(page.getByRole('heading', { name: 'My jobs' })).toBeVisible()
  await look('my jobs')
  const b = new Bench(page)
  await b.open('It stood still, and the words were long.')
  await b.run('Try to start it')
  await look('bench')
  await page.reload()
  await b.fit('Compression, dry')
  await look('bench with an instrument')
  await page.reload()
  await page.getByRole('link', { name: 'Hand over' }).click()
  await expect(page.getByText('The board as you leave it')).toBeVisible()
  await look('hand-over')
  await page.reload()
  await pick(page, 'Part', 'Kill circuit')
  await page.getByRole('button', { name: 'Refer on' }).click()
  await page.getByRole('button', { name: 'Hand over and read the debrief' }).click()
  await expect(page.getByText('What each minute taught')).toBeVisible({ timeout: 20_000 })
  await look('debrief')
  expect(found).toEqual([])
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

/** On a tablet that stands upright every part of the bench is in sight at once. */
async function whole(page: Page) {
  await page.getByRole('button', { name: 'Leave', exact: true }).click()
  for (const part of ['.board-panel', '.tray', 'section.hand', '.ledger', '.machine', '.controls']) await expect(page.locator(part), part).toBeInViewport({ ratio: 1 })
  expect(await page.evaluate(() => document.documentElement.scrollHeight <= innerHeight), 'no page scroll at 820x1180').toBe(true)
}

test('phone and tablet: the board stands up, nothing is cut off, targets fit a thumb', async ({ page }) => {
  await signIn(page, 'ines')
  await new Bench(page).open('Stood in the pump house')
  for (const [width, height] of [[390, 844], [820, 1180], [1024, 768]]) {
    await page.setViewportSize({ width, height })
    await noSideScroll(page)
    if (width === 820) await whole(page)
    const small = await page.locator('.bench button:visible, .bench input:visible, .bench [role=slider]:visible, .bench a:visible').evaluateAll((all) =>
      all.map((e) => ({ name: e.textContent?.trim() || e.getAttribute('aria-label'), r: (e.closest('.v-field, .v-slider') ?? e).getBoundingClientRect() })).filter((x) => x.r.height < 47.5 || x.r.width < 24).map((x) => `${x.name} ${x.r.width}x${x.r.height}`),
    )
    expect(small, `at ${width}`).toEqual([])
  }
  await page.setViewportSize({ width: 390, height: 844 })
  expect((await page.locator('.bench > .top').boundingBox())!.height, 'the head is one line').toBeLessThan(56)
  // At its end the page has nothing half under the bar, which is where a thumb stops scrolling.
  await page.evaluate(() => scrollTo(0, document.body.scrollHeight))
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
