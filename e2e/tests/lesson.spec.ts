import { expect, test, type Browser } from '@playwright/test'
import { inWords, noSideScroll, signIn } from '../bench.ts'

/** Somebody with a phone of their own. */
const phone = async (browser: Browser) => (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage()

test('a class tells two machines apart by ear, each on a phone; what was right stands in the records', async ({ page, browser }) => {
  test.setTimeout(120_000)
  await signIn(page, 'tomasa')
  await page.getByRole('link', { name: 'People' }).click()
  await page.getByRole('option', { name: /^Morning bench/ }).click()
  await page.getByRole('link', { name: 'Work of the class' }).click()
  await page.waitForURL(/\/classes\//)
  const work = page.url()
  await page.getByRole('button', { name: 'Two machines' }).click()
  const dialog = page.getByRole('dialog')
  const asked = async (fault: string) => {
    await dialog.getByRole('combobox', { name: 'The fault that is asked for' }).fill(fault)
    await page.getByRole('option', { name: fault, exact: true }).click()
  }
  await expect(dialog.getByRole('button', { name: 'Put them before the class' })).toHaveAttribute('aria-disabled', 'true')
  await asked('Tank cap vent blocked')
  await dialog.getByRole('button', { name: 'Put them before the class' }).click()
  await expect(dialog.getByRole('alert'), 'a blocked vent is not heard as it starts').toContainText('nobody could tell the two apart')
  await asked('Main jet blocked')
  await dialog.getByRole('button', { name: 'Put them before the class' }).click()
  await expect(page.getByRole('heading', { name: 'Which of the two has this: main jet blocked?' })).toBeVisible()
  await inWords(page)

  const [ines, rafi] = [await phone(browser), await phone(browser)]
  for (const [p, who, side] of [
    [ines, 'ines', 'A'],
    [rafi, 'rafi', 'B'],
  ] as const) {
    await signIn(p, who)
    await p.getByRole('region', { name: 'Which is it?' }).getByRole('link', { name: 'Sense them and answer' }).first().click()
    const machine = p.getByRole('region', { name: `Machine ${side}` })
    await machine.getByRole('button', { name: 'Hear it' }).click()
    await machine.getByRole('button', { name: 'Stop the sound' }).click()
    await expect(p.getByText(/runs only on choke|dies/i), 'what is heard has no words').toHaveCount(0)
    await machine.getByRole('button', { name: `It is Machine ${side}` }).click()
    await expect(machine.getByRole('button', { name: `It is Machine ${side}` })).toHaveAttribute('aria-pressed', 'true')
    await noSideScroll(p)
  }
  await expect(page.getByText(/^2 of \d+ have answered/)).toBeVisible()
  await page.getByRole('button', { name: 'Say which it is' }).click()
  for (const p of [page, ines, rafi]) {
    await expect(p.getByText('It is this one. Chosen by 50 %.')).toBeVisible()
    await expect(p.getByText('It is the other one. Chosen by 50 %.')).toBeVisible()
    await expect(p.getByText('What the other has: nothing, it is sound.')).toBeVisible()
  }
  await page.goto(`${work}/analysis`)
  await expect(page.getByRole('region', { name: 'Told apart by the senses' }).getByText(/^[12] of [24] right$/)).toBeVisible()
  await ines.getByRole('link', { name: 'My record' }).click()
  await expect(ines.getByRole('region', { name: 'Told apart by the senses' }).getByText(/^[0-2] of [12] right$/)).toBeVisible()
  await ines.context().close()
  await rafi.context().close()
})
