import { readFileSync } from 'node:fs'
import { expect, test, type Locator, type Page } from '@playwright/test'

export const people = { tomasa: 'headgate-41', benna: 'weir-52', ines: 'ditch-07', rafi: 'ditch-08', juno: 'ditch-09', wenda: 'sluice-63', teo: 'canal-14' }

/**
 * Words of a job that are told once. Chance in a machine comes from a seed that
 * nobody chooses, so a test may be tried a second time, on a job of its own.
 */
export const told = (words: string) => (test.info().retry ? `${words} Once more.` : words)

/** Opens a list by its name and takes what is called so; or the last that it has. */
export async function pick(within: Page | Locator, name: string | RegExp, option: string | RegExp | 'last') {
  const page = 'page' in within ? within.page() : within
  const field = within.getByRole('combobox', { name })
  await field.locator('xpath=ancestor::*[contains(@class, "v-field ")]').click()
  const open = page.getByRole('option')
  await expect(open.first()).toBeVisible()
  // A list that can be typed in is searched: not all of a long one is laid out.
  if (typeof option === 'string' && option !== 'last' && (await field.getAttribute('inputmode')) !== 'none') await field.fill(option)
  const wanted = option === 'last' ? open.last() : page.getByRole('option', { name: option, exact: typeof option === 'string' })
  await wanted.click()
  await expect(field).toHaveAttribute('aria-expanded', 'false')
}

const sections = Object.keys(JSON.parse(readFileSync(new URL('../messages/en.json', import.meta.url), 'utf8')) as object)
const bareKey = new RegExp(`\\b(?:${sections.join('|')})\\.[a-z][\\w.-]*`, 'g')

/** Everything that is said has its words: no key of a message stands in the page, nor is one read out. */
export async function inWords(page: Page) {
  const said = await page.evaluate(() => {
    const texts: string[] = []
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    while (walk.nextNode()) texts.push(walk.currentNode.nodeValue ?? '')
    const named = [...document.querySelectorAll('[aria-label], [title], [placeholder]')]
    return [...texts, ...named.flatMap((e) => ['aria-label', 'title', 'placeholder'].map((a) => e.getAttribute(a)))].join('\n')
  })
  expect(said.match(bareKey) ?? [], 'keys without words').toEqual([])
}

/** Nothing stands over the edge of the window. */
export async function noSideScroll(page: Page) {
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true)
}

/** Moves a slider by its keys, from its lowest place up. */
export async function slide(slider: Locator, to: number, step: number) {
  await slider.press('Home')
  const low = Number(await slider.getAttribute('aria-valuemin'))
  for (let i = 0; i < Math.round((to - low) / step); i++) await slider.press('ArrowRight')
}

export async function signIn(page: Page, name: keyof typeof people) {
  await page.context().clearCookies()
  await page.goto('/sign-in')
  await page.getByLabel('Name').fill(name)
  await page.getByLabel('Password').fill(people[name])
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL(/\/(jobs|yard|reviews|people)$/)
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
  toClass?: string
  mode?: string
  minutes?: number
  page?: string
}

/** Hides faults in a machine, the lift pump unless it says otherwise, and gives the job to an apprentice. */
export async function setJob(page: Page, o: Job) {
  await page.goto('/yard/new-job')
  await beginAnew(page)
  await pick(page, 'Machine', o.machine ?? 'Lift pump LP-2')
  for (const f of o.faults ?? [{ reach: o.reach!, fault: o.fault!, severity: o.severity }]) {
    await page.getByRole('button', { name: new RegExp(`^${f.reach}, `) }).click()
    await page.getByRole('button', { name: f.fault, exact: true }).click()
    if (f.severity) await slide(page.getByRole('slider', { name: /How far gone/ }).last(), f.severity, 0.05)
  }
  if (o.mode) await pick(page, 'How it is given', new RegExp(`^${o.mode}`, 'i'))
  if (o.page) await pick(page, 'A page to follow', o.page)
  if (o.minutes) await page.getByLabel('Minutes', { exact: true }).fill(String(o.minutes))
  await page.getByLabel("The customer's words").fill(o.words)
  await pick(page, 'What the words come to', o.claim)
  if (o.toClass) await pick(page, 'To a class', new RegExp(`^${o.toClass}`))
  await page.getByRole('checkbox', { name: o.to }).check()
  await expect(page.getByText(/complaint is true of this machine/)).toBeVisible()
  await page.getByRole('button', { name: 'Set the job and give it out' }).click()
  await page.waitForURL(o.toClass ? /\/classes\// : /\/yard$/)
  await expect(page.getByText(o.words).first()).toBeVisible()
}

/** Clears the desk, where something stands on it. */
export async function beginAnew(page: Page) {
  const anew = page.getByRole('button', { name: 'Begin anew' })
  if ((await anew.getAttribute('aria-disabled')) !== 'true') await anew.click()
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
    const saved = () => expect(this.page.locator('.kept')).not.toHaveText(/saving/)
    await saved() // so that the answer is to this
    const answer = this.page.waitForResponse((r) => r.url().endsWith('/events') && r.request().method() === 'POST')
    await what()
    const response = await answer
    expect(response.status(), await response.text()).toBe(200)
    await saved()
  }
  press = (name: string | RegExp, exact = typeof name === 'string') => this.done(() => this.page.getByRole('button', { name, exact }).click())
  /** Moves a lever, unless it stands there already. */
  async lever(name: string, to: number) {
    const slider = this.page.getByRole('slider', { name })
    await expect(slider).toHaveAttribute('tabindex', '0') // it can be moved
    if (Number(await slider.getAttribute('aria-valuenow')) === to) return
    await this.done(() => (to === 1 ? slider.press('End') : slide(slider, to, 0.1)))
  }
  /** Puts a control, unless it stands there already. */
  async put(name: string, to: string) {
    const field = this.page.locator('.strip').getByRole('combobox', { name })
    if ((await field.inputValue()) !== to) await this.done(() => pick(this.page, name, to))
  }
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
  how = (name: string, label: string) => this.done(() => pick(this.page.locator('.how'), name, label))
  async write(reading: string, unit: string, judged: 'Below' | 'In band' | 'Above') {
    await this.page.getByLabel('Reading').fill(reading)
    await this.page.getByRole('button', { name: unit, exact: true }).click()
    await this.page.getByRole('button', { name: judged }).click()
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
    const blades = this.page.getByRole('group', { name: /^(Blades|Wires), mm$/ }).getByRole('button')
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
    await pick(first, 'Part', o.part)
    await pick(first, 'What is wrong with it', o.fault)
    for (const e of o.evidence) await first.getByRole('button', { name: e }).first().click()
    if (o.second) {
      await page.getByRole('button', { name: 'Add a finding' }).click()
      const next = page.getByRole('region', { name: 'Finding 2' })
      await pick(next, 'What is it?', o.second.filing)
      await pick(next, 'Part', o.second.part)
      await pick(next, 'What is wrong with it', o.second.fault)
    }
    if (o.cause) await pick(page, 'How did it come about?', o.cause)
    await page.getByRole('button', { name: o.verdict }).click()
    if (o.verdict === 'Repaired and proved') await pick(page, 'Proof run', 'last')
    await pick(page, 'Advice to the owner', 'last')
    await page.getByRole('button', { name: 'Hand over and read the debrief' }).click()
    await page.waitForURL(/\/debrief\//)
    await page.getByRole('button', { name: 'Open all' }).click()
  }
  /** Fills the hand-over in for a main jet that was found, replaced and proved. */
  async fillHandOver() {
    const page = this.page
    await page.getByRole('link', { name: 'Hand over' }).click()
    await pick(page, 'What is wrong with it', 'Main jet blocked')
    await page.getByRole('button', { name: /^Look through the jet: part/ }).click()
    await pick(page, 'How did it come about?', 'Stored with fuel in it')
    await page.getByRole('button', { name: 'Repaired and proved' }).click()
    await pick(page, 'Proof run', 'last')
    await pick(page, 'Advice to the owner', 'last')
  }
}

/** Does acts at a bench through the page's own session, one after the other, for tests that begin where they end. */
export async function acts(page: Page, attempt: string, events: object[]) {
  await page.evaluate(
    async ([attempt, events]) => {
      const send = (path: string, method: string, body?: object) =>
        fetch(`/api/attempts/${attempt}${path}`, { method, headers: { 'Content-Type': 'application/json' }, body: body && JSON.stringify(body) })
      let after = (await (await send('', 'GET')).json()).seq as number
      for (const event of events) {
        const answer = await send('/events', 'POST', { client_id: crypto.randomUUID(), after: after++, event })
        if (!answer.ok) throw new Error(`${JSON.stringify(event)}: ${await answer.text()}`)
      }
    },
    [attempt, events] as const,
  )
}
