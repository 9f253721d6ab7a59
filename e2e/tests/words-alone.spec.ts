import { expect, test, type Locator, type Page } from '@playwright/test'
import { people } from '../bench.ts'

/**
 * The whole first job by what a screen reader says and a keyboard does: things are found
 * by role and name alone, pressed with Enter, and what came of it is read from what is
 * announced. No pointer, no picture, no place on the screen.
 */
const press = async (at: Locator) => {
  await at.focus()
  await at.press('Enter')
}
/** What the page has said of itself in a live region. */
const announced = (page: Page, what: RegExp) => expect(page.getByRole('status').filter({ hasText: what }).first()).toBeAttached()
/** Chooses from a list as a keyboard does: opened, typed into or walked, taken. */
async function choose(within: Page | Locator, page: Page, name: string, option: string | RegExp) {
  const field = within.getByRole('combobox', { name }).first()
  await field.focus()
  await field.press('ArrowDown')
  const wanted = page.getByRole('option', { name: option })
  await expect(wanted.first()).toBeVisible()
  for (let i = 0; i < 80 && !(await wanted.first().evaluate((e) => e === document.activeElement || e.contains(document.activeElement))); i++) await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
}

test('the whole job by keyboard and by a screen reader’s words alone', async ({ page }, { retry }) => {
  // A first job is taken once a person: who tries again is somebody else.
  const name = retry ? 'ines' : 'juno'
  await page.goto('/sign-in')
  await page.getByRole('textbox', { name: 'Name' }).focus()
  await page.keyboard.type(name)
  await page.keyboard.press('Tab')
  await page.keyboard.type(people[name])
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'My jobs', level: 1 })).toBeVisible()
  await press(page.getByRole('region', { name: 'Your first job' }).getByRole('button', { name: 'Take the first job' }))
  await announced(page, /choke to shut/)

  const hand = page.getByRole('region', { name: 'In hand' })
  const take = async (find: string, name: RegExp, verb: string) => {
    await press(page.getByRole('tab', { name: 'Tests' }))
    await page.getByRole('searchbox', { name: 'Find a test' }).fill(find)
    await press(page.getByRole('group', { name: 'Tests' }).getByRole('button', { name }).first())
    await press(hand.getByRole('button', { name: verb }))
  }
  const choke = page.getByRole('slider', { name: 'Choke' })
  await choke.focus()
  await choke.press('End')
  await expect(choke).toHaveAttribute('aria-valuetext', 'shut')
  await take('start it', /^Try to start it/, 'Pull the rope')
  await announced(page, /[Nn]o fire/)
  await announced(page, /plug gap/)

  await take('plug gap', /^Measure the plug gap/, 'Fit the instrument')
  await announced(page, /No blade/)
  // Wires from the thinnest, until one is said to stop.
  const blades = page.getByRole('group', { name: /^(Blades|Wires), mm$/ }).getByRole('button')
  let goes = ''
  for (let i = 0; i < (await blades.count()); i++) {
    await press(blades.nth(i))
    const mm = ((await blades.nth(i).textContent()) ?? '').trim()
    const said = hand.getByRole('status').filter({ hasText: `${mm} mm` }).first()
    await expect(said).toBeAttached()
    if (/stops|not go/.test((await said.textContent()) ?? '')) break
    goes = mm
  }
  expect(Number(goes)).toBeGreaterThan(0)
  await hand.getByRole('textbox', { name: 'Reading' }).fill(goes)
  await press(hand.getByRole('button', { name: 'mm', exact: true }))
  await press(hand.getByRole('button', { name: 'Below' }))
  await press(hand.getByRole('button', { name: 'Write it down' }))
  await expect(page.getByRole('region', { name: 'Ledger' })).toContainText(`${goes} mm`)
  await press(page.getByRole('region', { name: 'Ledger' }).getByRole('button', { name: /Measure the plug gap/ }))

  await press(page.getByRole('button', { name: /^Plug, undecided/ }))
  await press(page.getByRole('button', { name: 'Condemn', exact: true }))
  await announced(page, /Plug.*condemned/)
  await press(page.getByRole('tab', { name: 'Work' }))
  await press(page.getByRole('button', { name: /^Re-gap / }))
  await press(page.getByRole('button', { name: /sure\?/ }))
  await announced(page, /start it again/)
  await take('start it', /^Try to start it/, 'Pull the rope')
  await announced(page, /[Rr]uns well/)
  await press(page.getByRole('tab', { name: 'Covers' }))
  const off = page.getByRole('button', { name: /is off; put it back/ })
  while ((await off.count()) > 0) {
    const n = await off.count()
    await press(off.first())
    await expect(off).toHaveCount(n - 1)
  }

  await press(page.getByRole('link', { name: 'Hand over' }))
  const finding = page.getByRole('region', { name: 'Finding 1' })
  await choose(finding, page, 'Part', 'Plug')
  await choose(finding, page, 'What is wrong with it', 'Plug gap wrong')
  await press(finding.getByRole('button', { name: /^Measure the plug gap/ }).first())
  await press(page.getByRole('button', { name: 'Repaired and proved' }))
  await choose(page, page, 'Proof run', /runs well/)
  await press(page.getByRole('button', { name: 'Hand over and read the debrief' }))
  const verdict = page.getByRole('region', { name: 'Verdict' })
  await expect(verdict).toContainText('Plug gap wrong: right', { timeout: 30_000 })
  // What the chart shows is a table too, and all that is folded opens.
  await press(page.getByRole('button', { name: 'Show it as a table' }))
  await expect(page.getByRole('table', { name: 'Bits left to know against minutes spent' }).getByRole('row')).not.toHaveCount(1)
  await press(page.getByRole('button', { name: 'Open all' }))
  await expect(page.getByRole('button', { expanded: false })).toHaveCount(0)
})
