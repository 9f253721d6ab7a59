import AxeBuilder from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { Bench, setJob, signIn, told, inWords } from '../bench.ts'

// Every test of the catalogue, taken up at the bench on a machine that has it,
// with what it shows held against the rules of accessibility.
const machines = ['Lift pump LP-2', 'Weir generator WG-5', 'Bank mower BM-3', 'Gate hoist GH-1', 'Post auger PA-4', 'Mist sprayer MS-6']
const seen = new Set<string>()
test.describe.configure({ mode: 'serial' })

for (const machine of machines) {
  test(`every test at the bench: ${machine}`, async ({ page }) => {
    test.setTimeout(300_000)
    const words = told(`All of it, on the ${machine}. It was never much of a starter, and since the canals were shut nobody has got so much as a cough out of it, whatever they tried.`)
    await page.emulateMedia({ reducedMotion: 'reduce' })
    await signIn(page, 'tomasa')
    await setJob(page, { machine, reach: 'Plug', fault: 'Plug fouled', severity: 1, claim: 'It does not start', words, to: 'Ines Calder', mode: 'guided', minutes: 600 })
    await signIn(page, 'ines')
    const b = new Bench(page)
    await b.open(words)
    const hand = page.getByRole('region', { name: 'In hand' })
    const axe = async (what: string) => {
      const found = await new AxeBuilder({ page }).include('.hand').options({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'], resultTypes: ['violations'] }).analyze()
      expect.soft(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target).join(' | ')}`), what).toEqual([])
    }
    const titles = (await page.locator('.tray .card b').allTextContents()).map((t) => t.trim())
    expect(titles.length).toBeGreaterThan(30)
    for (const title of titles.filter((t) => !seen.has(t))) {
      seen.add(title)
      await page.getByRole('searchbox').fill(title)
      await page.locator('.tray .card').filter({ has: page.getByText(title, { exact: true }) }).click()
      await b.done(() => hand.locator('.go .bg-secondary').click())
      // Worked until there is something to write down, which takes the most room.
      const keys = hand.locator(':is(.keys, .blades, .hand > .v-btn.bg-secondary):not(form *)').locator('.v-btn:enabled:not(.cannot)')
      for (let i = 0; i < Math.min(await keys.count(), 6) && !(await hand.locator('form').isVisible()); i++) await b.done(() => keys.nth(i).click())
      // What is drawn has words that say as much.
      for (const name of await hand.getByRole('img').evaluateAll((all) => all.map((e) => e.getAttribute('aria-label') ?? ''))) expect(name.length, title).toBeGreaterThan(12)
      // Nothing is cut off, and the page does not scroll.
      const over = await hand.evaluate((e) => [e.scrollHeight - e.clientHeight, document.documentElement.scrollHeight - window.innerHeight])
      expect.soft(Math.max(...over), `${title} needs more room`).toBeLessThanOrEqual(2)
      if (process.env.STATES) await hand.screenshot({ path: `${process.env.STATES}/${machine.slice(-4)}-${title.replaceAll(/\W+/g, '-')}.png` })
      await inWords(page)
      await axe(title)
    }
  })
}
