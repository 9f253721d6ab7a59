import { expect, test } from '@playwright/test'
import { Bench, setJob, signIn, told } from '../bench.ts'

test('a run is heard when it is asked for, and a rope is drawn by hand or by key', async ({ page }) => {
  const words = told('Roars in the shed and will not settle.')
  await signIn(page, 'tomasa')
  await setJob(page, { reach: 'Jets', fault: 'Main jet blocked', severity: 0.6, claim: 'It runs only with the choke on', words, to: 'Juno Pask' })
  await signIn(page, 'juno')
  const heard: string[] = []
  page.on('request', (r) => r.url().includes('/heard/') && heard.push(r.url()))
  const b = new Bench(page)
  await b.open(words)
  await b.lever('Choke', 1)
  await b.run('Try to start it')
  const sound = page.getByRole('group', { name: 'Sound of the run' })
  await expect(sound).toBeVisible()
  expect(heard, 'nothing sounds, or is fetched, before it is asked for').toEqual([])
  await sound.getByRole('button', { name: 'Hear it' }).press('Enter')
  await expect(sound.getByRole('button', { name: 'Stop the sound' })).toBeVisible()
  await sound.getByRole('slider', { name: 'How loud' }).press('End')
  await sound.getByRole('button', { name: 'Stop the sound' }).click()
  await expect(sound.getByRole('button', { name: 'Hear it' })).toBeVisible()
  // It fires as often as its speed says: measured on what the browser makes of it.
  const { beats } = await (await page.request.get(heard[0])).json()
  const fires = beats.filter((x: { kind: string }) => x.kind === 'fire').map((x: { at: number }) => x.at)
  const steady = fires.filter((at: number) => at > fires[0] + 0.5 && at < fires[0] + 2)
  const perSecond = (steady.length - 1) / (steady.at(-1) - steady[0])
  expect(perSecond).toBeGreaterThan(20)
  expect(perSecond).toBeLessThan(33) // 3600 rpm is 30 a second; it may miss some
  expect(JSON.stringify(beats)).not.toMatch(/jet|fault|severity/)

  await page.reload()
  await expect(sound.getByRole('slider', { name: 'How loud' })).toHaveAttribute('aria-valuenow', '1')

  await b.run('Feel the pull', 'Look')
  const rope = page.getByRole('button', { name: /^Draw (the rope|it again)/ })
  await rope.press('Enter')
  await expect(page.getByRole('button', { name: 'Draw it again' })).toBeVisible()
  await page.getByRole('button', { name: 'strong', exact: true }).click()
  await expect(page.getByRole('region', { name: 'Ledger' }).getByText('strong')).toBeVisible()

  // At the tester the pull is as brisk as the hand.
  await b.fit('Step out the spark gap')
  const grip = page.locator('.grip')
  const box = (await grip.boundingBox())!
  await page.mouse.move(box.x + 20, box.y + 30)
  await page.mouse.down()
  for (let i = 1; i <= 6; i++) await page.mouse.move(box.x + 20 + i * 60, box.y + 30)
  await expect(page.getByRole('textbox', { name: 'Reading' })).toBeVisible()
  await page.mouse.up()
})

test('without sound the words stand', async ({ browser }) => {
  const context = await browser.newContext()
  await context.addInitScript(() => Object.defineProperty(window, 'AudioContext', { value: undefined }))
  const page = await context.newPage()
  await signIn(page, 'ines')
  await page.getByRole('button', { name: 'Take the first job' }).click()
  const b = new Bench(page)
  await b.run('Try to start it')
  const sound = page.getByRole('group', { name: 'Sound of the run' })
  await sound.getByRole('button', { name: 'Hear it' }).click()
  await expect(sound.getByText('This device gives no sound. The words say the same.')).toBeVisible()
  await context.close()
})
