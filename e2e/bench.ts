import { expect, test, type Page } from '@playwright/test'

export const people = { tomasa: 'headgate-41', ines: 'ditch-07', rafi: 'ditch-08', juno: 'ditch-09' }

/**
 * Words of a job that are told once. Chance in a machine comes from a seed that
 * nobody chooses, so a test may be tried a second time, on a job of its own.
 */
export const told = (words: string) => (test.info().retry ? `${words} Once more.` : words)

export async function signIn(page: Page, name: keyof typeof people) {
  await page.context().clearCookies()
  await page.goto('/sign-in')
  await page.getByLabel('Name').fill(name)
  await page.getByLabel('Password').fill(people[name])
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL(/\/(jobs|yard)$/)
}

type Job = {
  machine?: string
  faults?: { reach: string; fault: string; severity?: number }[]
  reach?: string
  fault?: string
  severity?: number
  claim: string
  words: string
  to: string
  mode?: string
  minutes?: number
}

/** Hides faults in a machine, the lift pump unless it says otherwise, and gives the job to an apprentice. */
export async function setJob(page: Page, o: Job) {
  await page.goto('/yard/new-job')
  await page.getByRole('button', { name: 'Begin anew' }).click()
  await page.getByLabel('Machine').selectOption({ label: o.machine ?? 'Lift pump LP-2' })
  for (const f of o.faults ?? [{ reach: o.reach!, fault: o.fault!, severity: o.severity }]) {
    await page.getByRole('button', { name: new RegExp(`^${f.reach}, `) }).click()
    await page.getByRole('button', { name: f.fault, exact: true }).click()
    if (f.severity) await page.getByRole('slider', { name: /How far gone/ }).last().fill(String(f.severity))
  }
  if (o.mode) await page.getByLabel('How it is given').selectOption(o.mode)
  if (o.minutes) await page.getByRole('spinbutton', { name: 'Minutes' }).fill(String(o.minutes))
  await page.getByLabel("The customer's words").fill(o.words)
  await page.getByLabel('What the words come to').selectOption({ label: o.claim })
  await page.getByLabel(o.to).check()
  await expect(page.getByText(/complaint is true of this machine/)).toBeVisible()
  await page.getByRole('button', { name: 'Set the job and give it out' }).click()
  await page.waitForURL(/\/yard$/)
  await expect(page.getByText(o.words).first()).toBeVisible()
}

/** A dial's words turned into a figure. */
function readWords(text: string): number {
  const small = Number(text.match(/small marks are ([\d.]+)/)?.[1])
  const between = text.match(/between small mark (\d+) and \d+ past (-?\d+)/)
  if (between) return Number(between[2]) + small * (Number(between[1]) + 0.5)
  const marks = text.match(/(\d+) small marks past (-?\d+)/)
  if (marks) return Number(marks[2]) + small * Number(marks[1])
  return Number(text.match(/on the mark (-?\d+)/)![1])
}

/** The bench as a practised pair of hands works it. */
export class Bench {
  constructor(readonly page: Page) {}

  async open(words: string) {
    await this.page.goto('/jobs')
    await this.page.getByRole('link', { name: new RegExp(words) }).first().click()
    await this.page.waitForURL(/\/bench\//)
    await expect(this.page.getByRole('heading', { name: 'Ledger' })).toBeVisible()
  }
  /** Does something and waits for the server's answer to it. */
  async done(what: () => Promise<unknown>) {
    const answer = this.page.waitForResponse((r) => r.url().endsWith('/events') && r.request().method() === 'POST')
    await what()
    const response = await answer
    expect(response.status(), await response.text()).toBe(200)
    await expect(this.page.locator('.strip select, .strip button').first()).toBeEnabled()
  }
  press = (name: string | RegExp, exact = typeof name === 'string') => this.done(() => this.page.getByRole('button', { name, exact }).click())
  lever = (name: string, to: number) => this.done(() => this.page.getByRole('slider', { name }).fill(String(to)))
  put = (name: string, to: string) => this.done(() => this.page.getByRole('combobox', { name }).selectOption(to))
  async choose(test: string) {
    await this.page.getByRole('tab', { name: 'Tests' }).click()
    await this.page.locator('.tray .card', { hasText: test }).first().click()
  }
  async run(test: string, verb = 'Pull the rope') {
    await this.choose(test)
    await this.press(verb)
  }
  async fit(test: string) {
    await this.choose(test)
    await this.press('Fit the instrument')
  }
  /** Goes about the test in hand in another way. */
  how = (name: string, label: string) => this.done(() => this.page.locator('.how').getByLabel(name).selectOption({ label }))
  async write(reading: string, unit: string, judged: 'Below' | 'In band' | 'Above') {
    await this.page.getByLabel('Reading').fill(reading)
    await this.page.getByRole('radio', { name: unit, exact: true }).click()
    await this.page.getByRole('radio', { name: judged }).click()
    await this.press('Write it down')
  }
  at = (reach: string) => this.page.getByRole('button', { name: new RegExp(`^${reach}, `) }).click()
  async work(reach: string, act: string) {
    await this.at(reach)
    await this.page.getByRole('tab', { name: 'Work' }).click()
    await this.page.getByRole('button', { name: new RegExp(`^${act} `) }).click()
    await this.press(/sure\?/)
  }
  async care(act: string) {
    await this.page.getByRole('tab', { name: 'Care' }).click()
    await this.done(() => this.page.locator('.tray .card', { hasText: act }).click())
  }
  async closeCovers() {
    await this.page.getByRole('tab', { name: 'Covers' }).click()
    const off = this.page.getByRole('button', { name: /is off; put it back/ })
    while ((await off.count()) > 0) await this.done(() => off.first().click())
  }
  /** What the gauge says in words that ask for the same reading, worked out as a reader would. */
  async readGauge() {
    const text = (await this.page.getByRole('img', { name: /Compression gauge/ }).getAttribute('aria-label')) ?? ''
    return readWords(text)
  }
  /** Steps the gap out until the spark fails, and says the widest that it jumped. */
  async stepOut() {
    let gap = 4
    for (;;) {
      await this.press('Pull')
      if (await this.page.getByText('Nothing jumps.').isVisible()) return gap - 0.5
      if (gap >= 19.5) return gap
      gap += 0.5
      await this.press('Gap 0.5 mm out')
    }
  }
  /** The needle of a round dial in words, worked out as a reader would. */
  async readDial(name: string) {
    const text = (await this.page.getByRole('img', { name: new RegExp(`^${name}`) }).getAttribute('aria-label')) ?? ''
    return readWords(text)
  }
  /** Says what a look is called. */
  call = (word: string) => this.done(() => this.page.locator('.names').getByRole('button', { name: word, exact: true }).click())
  /** Brackets a gap with feelers: the last that goes and the first that stops. */
  async feel() {
    const blades = this.page.getByRole('group', { name: 'Blades, mm' }).getByRole('button')
    let goes = 0
    for (let i = 0; i < (await blades.count()); i += 3) {
      const mm = Number(await blades.nth(i).textContent())
      await this.done(() => blades.nth(i).click())
      const said = (await this.page.locator('.hand figcaption').textContent()) ?? ''
      if (said.includes('stops')) return { goes, stops: mm }
      goes = mm
    }
    return { goes, stops: Infinity }
  }
  /** Fills the hand-over in and hands over. */
  async hand(o: { part: string; fault: string; evidence: RegExp[]; cause?: string; verdict: string; second?: { filing: string; part: string; fault: string } }) {
    const page = this.page
    await page.getByRole('link', { name: 'Hand over' }).click()
    const first = page.getByRole('region', { name: 'Finding 1' })
    await first.getByLabel(/^Part/).selectOption({ label: o.part })
    await first.getByLabel('What is wrong with it').selectOption({ label: o.fault })
    for (const e of o.evidence) await first.getByRole('button', { name: e }).first().click()
    if (o.second) {
      await page.getByRole('button', { name: 'Add a finding' }).click()
      const next = page.getByRole('region', { name: 'Finding 2' })
      await next.getByLabel('What is it?').selectOption({ label: o.second.filing })
      await next.getByLabel(/^Part/).selectOption({ label: o.second.part })
      await next.getByLabel('What is wrong with it').selectOption({ label: o.second.fault })
    }
    if (o.cause) await page.getByLabel('How did it come about?').selectOption({ label: o.cause })
    await page.getByRole('radio', { name: o.verdict }).click()
    const runs = await page.getByLabel('Proof run').locator('option').count()
    if (o.verdict === 'Repaired and proved') await page.getByLabel('Proof run').selectOption({ index: runs - 1 })
    await page.getByLabel('Advice to the owner').selectOption({ index: 1 })
    await page.getByRole('button', { name: 'Hand over and read the debrief' }).click()
    await page.waitForURL(/\/debrief\//)
  }
  /** Fills the hand-over in for a main jet that was found, replaced and proved. */
  async fillHandOver() {
    const page = this.page
    await page.getByRole('link', { name: 'Hand over' }).click()
    await page.getByLabel('What is wrong with it').selectOption({ label: 'Main jet blocked' })
    await page.getByRole('button', { name: /^Look through the jet: part/ }).click()
    await page.getByLabel('How did it come about?').selectOption({ label: 'Stored with fuel in it' })
    await page.getByRole('radio', { name: 'Repaired and proved' }).click()
    await page.getByLabel('Proof run').selectOption({ index: 2 })
    await page.getByLabel('Advice to the owner').selectOption({ index: 1 })
  }
}
