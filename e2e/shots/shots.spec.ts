import { expect, request, test, type Page } from '@playwright/test'
import { Bench, setJob, signIn, pick, slide } from '../bench.ts'

// One current picture of each main view, from the demo data, at 1280x800.
const shot = async (page: Page, name: string) => {
  await page.waitForTimeout(1200)
  await page.screenshot({ path: `../docs/screenshots/${name}.png` })
}

test('pictures', async ({ page }) => {
  test.setTimeout(240_000)
  await page.goto('/sign-in')
  await signIn(page, 'ines')
  await shot(page, 'my-jobs')
  const b = new Bench(page)
  await b.open('Stood in the pump house')
  await page.getByRole('button', { name: 'Leave', exact: true }).click() // the first steps; the drawing stands there then
  await b.lever('Choke', 1)
  await b.run('Try to start it')
  await b.fit('Step out the spark gap')
  await b.how('Clip', 'bare metal')
  for (let i = 0; i < 4; i++) await b.press('Gap 2 mm out')
  await b.press('Pull')
  let gap = 12
  for (; (await page.getByText('Nothing jumps.').count()) === 0; gap += 0.5) {
    await b.press('Gap 0.5 mm out')
    await b.press('Pull')
  }
  await b.write(String(gap - 0.5), 'mm', 'In band')
  await b.at('Boot')
  await page.getByRole('button', { name: 'Flows to here' }).click()
  await expect(page.getByRole('button', { name: 'Boot, flows, proved' })).toBeVisible()
  await b.fit('Fuel flow')
  await b.press('Let it run into the cup')
  const cup = await b.readDial('The surface stands')
  await b.write(String(cup), 'ml/min', 'In band')
  // A slip that the debrief will point at: the throttle left shut.
  await b.lever('Choke', 0)
  await b.put('Plug lead', 'earthed')
  await b.lever('Throttle', 0)
  await b.fit('Compression, dry')
  await b.press('Zero it')
  for (let i = 0; i < 5; i++) await b.press(/^Pull the rope/)
  await b.write(String(await b.readGauge()), 'psi', 'Below')
  await b.at('Rings, bore')
  await b.press('Suspect')
  await b.lever('Throttle', 1)
  await b.press('Let off')
  for (let i = 0; i < 5; i++) await b.press(/^Pull the rope/)
  await page.getByLabel('Reading').fill(String(await b.readGauge()))
  await page.getByRole('button', { name: 'psi' }).click()
  await page.getByRole('button', { name: 'In band' }).click()
  await shot(page, 'bench')
  await b.press('Write it down')
  await b.press('Undecided')
  await page.getByRole('button', { name: 'Flows to here' }).click()
  await expect(page.getByRole('button', { name: 'Rings, bore, flows, proved' })).toBeVisible()
  await b.fit('Leak-down')
  await b.how('Piston', 'at top')
  await b.how('Crank', 'barred')
  await b.done(async () => {
    await page.getByLabel('Supply, psi').fill('80')
    await page.getByLabel('Supply, psi').blur()
  })
  await b.press('Open the air')
  await b.at('Jets')
  await b.press('Suspect')
  await b.run('Look in the bowl', 'Look')
  await b.run('Look through the jet', 'Look')
  await b.press('part')
  await b.press('Condemn')
  await page.setViewportSize({ width: 390, height: 844 })
  await shot(page, 'bench-phone')
  await page.setViewportSize({ width: 1280, height: 800 })
  await b.work('Jets', 'Clean')
  await b.put('Plug lead', 'on')
  await b.lever('Throttle', 0.3)
  await b.lever('Choke', 1)
  await b.run('Try to start it')
  await b.closeCovers()
  await b.fillHandOver()
  await shot(page, 'hand-over')
  await page.getByRole('button', { name: 'Hand over and read the debrief' }).click()
  await page.waitForURL(/\/debrief\//)
  await expect(page.getByText('What each minute taught')).toBeVisible({ timeout: 30_000 })
  await shot(page, 'debrief')

  await signIn(page, 'tomasa')
  await page.goto('/yard/new-job')
  await pick(page, 'Machine', 'Lift pump LP-2')
  await page.getByRole('button', { name: /^Cap vent, / }).click()
  await page.getByRole('button', { name: 'Tank cap vent blocked' }).click()
  await slide(page.getByRole('slider', { name: /How far gone/ }), 0.95, 0.05)
  await page.getByLabel("The customer's words").fill('Runs the first rows, then dies. After a rest it goes again.')
  await pick(page, 'What the words come to', 'It runs, then stops after some minutes')
  await expect(page.getByText(/complaint is true of this machine/)).toBeVisible()
  await page.evaluate(() => scrollTo(0, 0))
  await page.getByRole('button', { name: 'Also wrong' }).click()
  await page.getByRole('button', { name: /^Air filter, / }).click()
  await page.getByRole('button', { name: 'Air filter torn', exact: true }).click()
  await expect(page.getByText(/^Yes: in \d+ of 100 jobs/)).toBeVisible({ timeout: 60_000 })
  await page.evaluate(() => scrollTo(0, 0))
  await shot(page, 'set-a-job')
  await page.goto('/yard/scenarios')
  await shot(page, 'scenarios')
  await page.goto('/reviews')
  await expect(page.getByRole('row', { name: /Ines Calder|Juno Pask|Rafi Onwell/ }).first()).toBeVisible()
  await shot(page, 'reviews')
  await page.goto('/people')
  await expect(page.getByRole('row', { name: /Ines Calder/ })).toBeVisible()
  await shot(page, 'people')
  await page.getByRole('link', { name: 'Ines Calder' }).click()
  await page.getByRole('button', { name: /^Readings on Compression/ }).click()
  await shot(page, 'record')
  await setJob(page, {
    reach: 'Jets', fault: 'Main jet blocked', severity: 0.6, claim: 'It runs only with the choke on',
    words: 'Only with the choke on does it go.', to: 'Juno Pask', toClass: 'Morning bench',
  })
  await shot(page, 'class')
  await page.goto('/yard')
  await shot(page, 'yard')
  // A real engine with its card, as it is ready to be given out.
  const machines = await (await page.request.get('/api/machines')).json()
  const pump = machines.find((m: { code: string }) => m.code === 'LP-2')
  await page.request.put(`/api/engines/${pump.id}`, { data: { serial: 'HV-2207', note: 'Second bench by the door.' } })
  const readings = (psi: string, word: string) => [
    { test: 'compression-dry', reading: psi, unit: 'psi' }, { test: 'spark-gap', reading: '14.5', unit: 'mm' }, { test: 'jet-look', word },
  ]
  const card = crypto.randomUUID()
  await page.request.post(`/api/engines/${pump.id}/bugs`, { data: { id: card, bug: {
    fault: { id: 'main-jet-blocked', severity: 1 }, done: 'A strand of wire fixed in the main jet.', undo: 'New jet in, bowl gasket changed.',
    complaint: 'only-on-choke', words: 'Runs while the choke is on, then dies.', sound: readings('66', 'daylight') } } })
  await page.request.post(`/api/bugs/${card}/acts`, { data: { after: 1, act: { kind: 'seen', symptom: true, readings: readings('65', 'part') } } })
  await page.goto(`/yard/engines/${pump.id}`)
  await shot(page, 'engine')
  await page.goto('/yard/exams')
  await page.getByRole('link', { name: /Autumn exam/ }).click()
  await expect(page.getByRole('region', { name: 'What it came to' }).getByRole('link', { name: /of 100/ })).toHaveCount(1, { timeout: 90_000 })
  await shot(page, 'exam')
  await page.goto('/yard/procedures')
  await pick(page, 'Machine', 'Lift pump LP-2')
  await page.getByRole('button', { name: 'Dose first', exact: true }).click()
  await page.getByRole('button', { name: /^Step \d+ of .*Compression, dry/ }).click()
  await expect(page.getByRole('region', { name: 'Better orders' }).getByRole('button', { name: /min less/ }).first()).toBeVisible({ timeout: 30_000 })
  await shot(page, 'procedure-desk')
  await page.getByRole('button', { name: 'Page', exact: true }).click()
  await shot(page, 'procedure-page')
  await page.goto('/yard')
  await page.getByRole('article').filter({ hasText: 'LP-2' }).getByRole('link', { name: 'Service sheet' }).click()
  await expect(page.getByText('agrees', { exact: true }).first()).toBeVisible()
  await shot(page, 'service-sheet')
  await page.goto('/inside')
  await pick(page, 'Machine', 'Lift pump LP-2')
  await pick(page, 'What is wrong with it', 'Tank cap vent blocked')
  await slide(page.getByRole('slider', { name: 'How far gone' }), 0.95, 0.05)
  await page.getByRole('button', { name: 'Run it' }).click()
  await page.getByLabel('Beside a sound one').check()
  await page.waitForLoadState('networkidle')
  await slide(page.getByRole('slider', { name: 'Moment' }), 35, 1)
  await page.getByRole('slider', { name: 'One second of it' }).press('Home')
  for (let i = 0; i < 39; i++) await page.getByRole('button', { name: /^Turn the crank on/ }).click()
  await shot(page, 'inside')
})

// Twenty-seven more, so that the floor is seen as full as it gets.
const MORE = 'Timo Sela Oda Bran Lio Mara Edo Neve Kip Ansa Rolf Pia Uri Dena Saul Tove Milo Resi Jarl Wen Abe Noor Ivo Hild Cato Bea Fenn'.split(' ')

test('a full floor', async ({ page, baseURL }) => {
  test.setTimeout(240_000)
  const json = (method: string, path: string, body?: object) =>
    page.evaluate(
      async ([method, path, body]) => {
        const r = await fetch(path as string, {
          method: method as string, headers: { 'Content-Type': 'application/json' }, body: body && JSON.stringify(body),
        })
        return r.json()
      },
      [method, path, body],
    )
  await signIn(page, 'wenda')
  const ids: string[] = []
  for (const name of MORE)
    ids.push((await json('POST', '/api/people', { display_name: `${name} Ditcher`, name: name.toLowerCase(), role: 'apprentice', here: true })).id)
  const sheets = await json('POST', '/api/sign-in-sheets', { people: ids })
  const [klass] = await json('GET', '/api/classes')
  const members = [...klass.members.map((m: { person: string }) => m.person), ...ids]
  await json('PUT', `/api/classes/${klass.id}`, { title: klass.title, term: klass.term, members })
  await signIn(page, 'tomasa')
  const pump = (await json('GET', '/api/machines')).find((m: { code: string }) => m.code === 'LP-2')
  const apprentices = (await json('GET', '/api/apprentices')).map((p: { id: string }) => p.id)
  const job = await json('POST', '/api/jobs', {
    machine_id: pump.id, faults: [{ id: 'main-jet-blocked', severity: 0.6 }], words: 'Runs while the choke is on, then dies.',
    claim: 'only-on-choke', limit_minutes: 60, limit_money: 40, class_id: klass.id, apprentices,
  })
  const attempts = new Map<string, string>(job.attempts.map((a: { apprentice: string; id: string }) => [a.apprentice, a.id]))
  const looks = ['look-fuel', 'look-filter', 'look-oil', 'look-choke']
  const clear = [['tank', 'cap-vent', 'pickup-filter', 'fuel-valve'], ['intake-filter', 'choke-plate'], ['flywheel', 'air-gap', 'coil'], ['turning', 'oil']]
  for (const [k, s] of sheets.entries()) {
    if (k % 9 === 8) continue // not begun
    const api = await request.newContext({ baseURL })
    await api.post('/api/session', { data: { name: s.name, password: s.password } })
    await api.put('/api/me/password', { data: { old: s.password, new: `ditch and sluice ${k} ok` } })
    const at = `/api/attempts/${attempts.get(s.display_name)}`
    let after = 0
    const act = (event: object) => api.post(`${at}/events`, { data: { client_id: crypto.randomUUID(), after: after++, event } })
    if (k % 7 !== 6) for (const action of ['ventilate', 'away-from-flame', 'driven-ready', 'agree-stop']) await act({ kind: 'do', do: action })
    await act({ kind: 'take', test: 'start-attempt' })
    for (const test of looks.slice(0, 1 + (k % 4))) await act({ kind: 'take', test })
    for (const reach of clear.slice(0, 1 + (k % 4)).flat()) await act({ kind: 'mark', reach, mark: 'clear' })
    if (k % 3 === 2) await act({ kind: 'mark', reach: 'jets', mark: 'suspect' })
    if (k % 5 === 4) await act({ kind: 'mark', reach: 'jets', mark: 'condemned' })
    if (k === 10) await api.post(`${at}/hints`, { data: { id: crypto.randomUUID(), words: 'May I take the head off?' } })
    if (k === 4 || k === 13)
      await api.post(`${at}/hand-over`, { data: { findings: [{ reach: 'jets', filing: 'root' }], verdict: 'refer-on', proof_seq: -1 } })
    await api.dispose()
  }
  await page.goto(`/classes/${klass.id}/floor`)
  await page.getByRole('button', { name: /^Rolf/ }).click()
  await page.waitForTimeout(8000) // until the handed over are marked
  await shot(page, 'floor')
})
