import { expect, test } from '@playwright/test'
import { acts, inWords, noSideScroll, people, setJob, signIn, told } from '../bench.ts'

// Words that stand in English sentences of the page, and in no Spanish one.
const ENGLISH = /\b(the|with|your|this|which|what|and|was|were|test|tests|spark|fuel|plug)\b/i

test('a job in Spanish, from signing in to the debrief: words, decimal mark and the page’s own language', async ({ page }) => {
  test.setTimeout(120_000)
  const words = told('No quiere, ni con el ahogador.')
  await signIn(page, 'tomasa')
  await setJob(page, { reach: 'Kill circuit', fault: 'Stop switch left in STOP', claim: 'It does not start', words, to: 'Ines Calder' })
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByLabel('Password'), 'the choice is nobody’s yet').toBeVisible()
  await page.getByRole('button', { name: 'Español' }).click()
  await page.getByLabel('Nombre').fill('ines')
  await page.getByLabel('Contraseña').fill(people.ines)
  await page.getByRole('button', { name: 'Ingresar' }).click()
  await expect(page.getByRole('heading', { name: 'Mis trabajos', level: 1 })).toBeVisible()
  expect(await page.evaluate(() => document.documentElement.lang)).toBe('es')
  await page.getByRole('link', { name: new RegExp(words) }).click()
  await expect(page.getByRole('region', { name: 'Registro' })).toBeVisible()
  const attempt = page.url().split('/').pop()!
  await acts(page, attempt, [
    { kind: 'control', control: { choke: 1 } }, { kind: 'take', test: 'start-attempt' }, { kind: 'mark', reach: 'plug', mark: 'suspect' },
    { kind: 'wait', minutes: 2.5 },
  ])
  await page.reload()
  await expect(page.getByRole('region', { name: 'Registro' })).toContainText('Intenta arrancarlo')
  await expect(page.getByRole('region', { name: 'Registro' })).toContainText('2,5 min')
  await expect(page.getByRole('group', { name: 'Ahogador' })).toContainText('cerrado')

  // A reading with the comma that a reader of Spanish types.
  await page.getByRole('searchbox', { name: 'Buscar prueba' }).fill('abertura')
  await page.getByRole('group', { name: 'Pruebas' }).getByRole('button', { name: /^Mide la abertura/ }).first().click()
  const hand = page.getByRole('region', { name: 'En la mano' })
  await hand.getByRole('button', { name: 'Poner el instrumento' }).click()
  await hand.getByRole('group', { name: /mm$/ }).getByRole('button').first().click()
  await hand.getByRole('textbox', { name: 'Lectura' }).fill('0,5')
  await hand.getByRole('button', { name: 'mm', exact: true }).click()
  await hand.getByRole('button', { name: 'Debajo' }).click()
  await hand.getByRole('button', { name: 'Anotar' }).click()
  await expect(page.getByRole('region', { name: 'Registro' })).toContainText('0,5 mm')
  await inWords(page)
  const said = await page.locator('main').innerText()
  // What the customer says is the yard’s own, in the language in which it was written.
  expect(said.split('\n').filter((l) => ENGLISH.test(l) && !l.startsWith('“'))).toEqual([])

  await page.getByRole('link', { name: 'Entregar' }).click()
  await page.getByRole('button', { name: 'Enviar a otro' }).click()
  await page.getByRole('button', { name: 'Entregar y leer el repaso' }).click()
  await page.waitForURL(/\/debrief\//)
  await page.getByRole('button', { name: 'Abrir todo' }).click()
  await expect(page.getByText('Lo que enseñó cada minuto')).toBeVisible()
  await inWords(page)
  await noSideScroll(page)
  const read = await page.locator('main').innerText()
  expect(read.split('\n').filter((l) => ENGLISH.test(l) && !l.startsWith('“'))).toEqual([])
  expect(read).not.toMatch(/\d\.\d/)

  // The choice follows the person, and can be taken back.
  await page.goto('/jobs')
  await page.getByRole('button', { name: 'English' }).click()
  await expect(page.getByRole('heading', { name: 'My jobs', level: 1 })).toBeVisible()
})

// The screens of the instructor's half, found by their links.
test('no screen of the yard has a decimal point where Spanish has a comma', async ({ page }) => {
  test.setTimeout(240_000)
  await signIn(page, 'tomasa')
  const language = page.getByRole('button', { name: /^(Español|English)$/ })
  if ((await language.innerText()).trim() === 'Español') await language.click()
  await expect(page.getByRole('button', { name: 'English' })).toBeVisible()
  const seen = new Set<string>()
  const kind = (at: string) => at.replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, ':id').replace(/\?.*/, '')
  const next = ['/people', '/reviews', '/yard', '/yard/figures', '/yard/engines', '/yard/study', '/yard/scenarios', '/yard/procedures', '/aids', '/audit', '/standard', '/inside', '/yard/new-job']
  const wrong: string[] = []
  // A document has a point in its number.
  const other = /AC 43\.13/g
  while (next.length) {
    const at = next.shift()!
    if (seen.has(kind(at))) continue
    seen.add(kind(at))
    await page.goto(at)
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
    await page.waitForLoadState('networkidle', { timeout: 3000 }).catch(() => undefined) // streams never end
    const { points, links } = await page.evaluate(() => {
      const points: string[] = []
      const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
      for (let n = walk.nextNode(); n; n = walk.nextNode()) if (/\d\.\d/.test(n.textContent ?? '') && !n.parentElement!.closest('script, style')) points.push(n.textContent!.trim())
      for (const e of document.querySelectorAll('[aria-label], [aria-valuetext]'))
        for (const a of ['aria-label', 'aria-valuetext']) if (/\d\.\d/.test(e.getAttribute(a) ?? '')) points.push(`${a}: ${e.getAttribute(a)}`)
      for (const e of document.querySelectorAll<HTMLInputElement>('input[inputmode=decimal], .v-number-input input')) if (/\d\.\d/.test(e.value)) points.push(`a field: ${e.value}`)
      return { points, links: [...document.querySelectorAll('main a[href]')].map((a) => new URL((a as HTMLAnchorElement).href).pathname) }
    })
    wrong.push(...points.filter((p) => /\d\.\d/.test(p.replace(other, ''))).map((p) => `${at}: ${p}`))
    // Where readings stand as somebody typed them, they stand so.
    next.push(...links.filter((l) => !/^\/(api|bench|debrief|yard\/engines\/)/.test(l) && !seen.has(kind(l))))
  }
  await page.getByRole('button', { name: 'English' }).click()
  await expect(page.getByRole('button', { name: 'Español' })).toBeVisible()
  expect(seen.size, [...seen].join(' ')).toBeGreaterThan(13)
  expect(wrong).toEqual([])
})
