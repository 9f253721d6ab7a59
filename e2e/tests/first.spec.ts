import { expect, test } from '@playwright/test'
import { Bench, signIn } from '../bench.ts'

for (const [who, role] of [['rafi', 'apprentice'], ['tomasa', 'instructor']] as const) {
  test(`a first job, by what its card says, for an ${role}`, async ({ page }) => {
    await signIn(page, who)
    await page.getByRole('button', { name: 'Take the first job' }).click()
    await page.waitForURL(/\/bench\//)
    const b = new Bench(page)
    const says = (step: RegExp) => expect(page.getByRole('region', { name: 'First steps' })).toContainText(step)
    await says(/1 of 8.*choke to shut/)
    await b.lever('Choke', 1)
    await b.run('Try to start it')
    await says(/2 of 8.*plug gap/)
    await b.fit('Measure the plug gap')
    await says(/3 of 8.*drags/)
    expect(await page.locator('.ledger').boundingBox().then((r) => r!.height), 'room for eight entries').toBeGreaterThan(300)
    const { goes } = await b.feel()
    await b.write(String(goes), 'mm', 'Below')
    await says(/4 of 8/)
    await page.getByRole('button', { name: /^Measure the plug gap/ }).last().click()
    await says(/5 of 8.*Condemn/)
    await b.at('Plug')
    await b.press('Condemn')
    await says(/6 of 8.*Re-gap/)
    await b.work('Plug', 'Re-gap')
    await says(/7 of 8/)
    await b.run('Try to start it')
    await says(/8 of 8.*hand over/)
    // It is begun, so it goes on where it stood.
    await page.reload()
    await says(/8 of 8/)
    await b.closeCovers()
    await b.hand({ part: 'Plug', fault: 'Plug gap wrong', evidence: [/^Measure the plug gap/], verdict: 'Repaired and proved' })
    await expect(page.getByText(/Plug gap wrong: right/).first()).toBeVisible({ timeout: 30_000 })
    if (role === 'apprentice') {
      await page.goto('/jobs')
      await expect(page.getByRole('button', { name: 'Take the first job' })).toBeVisible() // again, if wanted
    } else {
      await page.goto('/yard')
      await expect(page.getByText('It ran well until I put a new plug in')).toHaveCount(0)
    }
  })
}
