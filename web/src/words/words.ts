import kinds from '@messages/kinds/kinds.json'
import type { Schema } from '@/api/client'
import { i18n, language } from './i18n'

/** What a message is filled in with, by name. */
export type Params = Record<string, unknown>
type Coded = { code: string; params?: Params }

const one = kinds.one as Record<string, string>
const many = kinds.many as Record<string, { keys: string[]; between: string }>

/** A message as it stands in its file. */
const raw = (key: string) => (i18n.global.messages.value[i18n.global.locale.value] as Record<string, string>)[key] ?? ''

/** Tells whether there is a message for a key. */
export const has = (key: string) => i18n.global.te(key)

/**
 * The message of a key, filled in: the same as messages.Text gives on the
 * server. A key that there is no message for gives the key itself.
 */
export function text(key: string, params: Params = {}): string {
  const message = raw(key)
  if (message && !/[{}@|]/.test(message)) return message // nothing in it is to be filled in
  if (!has(key)) return key
  if (key.startsWith('reason.')) params = inOwn(params)
  const filled: Record<string, string> = {}
  for (const [, name] of message.matchAll(/\{(\w+)\}/g))
    filled[name] = name in params ? value(name, params[name], params) : `{${name}}`
  return i18n.global.t(key, filled)
}

function value(name: string, v: unknown, params: Params): string {
  if (typeof v === 'number') return figure(v)
  if (Array.isArray(v)) {
    const list = many[name]
    return list ? v.map((id) => named(String(id), list.keys)).join(list.between) : v.join(', ')
  }
  if (typeof v !== 'string') return String(v)
  const reading = READING.exec(v)
  if (reading) return name !== 'typed' && reading[3] in units ? measure(Number(reading[1]), reading[3]) : decimal(v)
  if (MOMENT.test(v)) return moment(v)
  if (!v.startsWith('@')) return one[name] ? named(v, [one[name]]) : v
  const key = v.slice(1)
  // What is left of a kind is said once for all of it.
  const any = `${key.slice(0, key.lastIndexOf('.') + 1)}any`
  if (!has(key) && has(any)) return text(any, { fault: params.item })
  return text(key, params)
}

/** A figure that comes written out, with its unit or without. */
const READING = /^([-−]?\d+(\.\d+)?)(?: (\S+))?$/

const MOMENT = /^\d{4}-\d\d-\d\dT\d\d:\d\d/

/** A moment of the server's, by the clock and the habit of where it is read. */
export const moment = (iso: string) =>
  new Date(iso).toLocaleString(language, { dateStyle: 'short', timeStyle: 'short' })

/** A day of the calendar, by the habit of where it is read. */
export const day = (iso: string) => new Date(`${iso}T12:00`).toLocaleDateString(language, { dateStyle: 'medium' })

function named(id: string, keys: string[]): string {
  const key = keys.map((k) => k.replace('*', id)).find(has)
  return key ? text(key) : id
}

/** A number that has a decimal point, if any, as it is written in the language of the page. */
export const decimal = (plain: string) => (language === 'es' ? plain.replace('.', ',') : plain)

/** A figure as people write it: no more than four of its figures count. */
export const figure = (v: number) => decimal(Number.isInteger(v) ? String(v) : String(Number(v.toPrecision(4))))

/** A figure with so many places behind the decimal mark. */
export const places = (v: number, n: number) => decimal(v.toFixed(n))

type Units = Record<string, { unit: string; times: number }>
/** Units in place of which the language of the page has others. A scale and what is typed keep theirs. */
const units: Units = (kinds.units as Record<string, Units>)[language] ?? {}

/** The figures of a message in the unit that the language goes by, where they have one. */
function inOwn(params: Params): Params {
  const own = units[String(params.unit)]
  if (!own) return params
  const out = Object.entries(params).map(([k, v]) => [k, typeof v === 'number' ? v * own.times : v])
  return { ...Object.fromEntries(out), unit: own.unit }
}

/** What was measured, to three figures and with its unit, as the language of the page has it. */
export function measure(v: number, unit = '') {
  const { times, unit: own } = units[unit] ?? { times: 1, unit }
  return `${short(v * times)} ${own}`.trim()
}

/** From one figure of a sheet to another, with their unit; as they stand where it is the language's own. */
export function measures(low: number, high: number, unit: string) {
  const own = units[unit]
  return own
    ? `${short(low * own.times)}–${short(high * own.times)} ${own.unit}`
    : `${figure(low)}–${figure(high)} ${unit}`.trim()
}

/** Three figures of a number, and none behind the decimal mark where it has as many before it. */
const short = (v: number) => decimal(v >= 100 ? v.toFixed(0) : String(Number(v.toPrecision(3))))

/** A field of a thing by its kind and id: the title of a test, the name of a reach; the id where it has none. */
export function nameOf(kind: string, id: string, field = 'name') {
  const key = `${kind}.${id}.${field}`
  return has(key) ? text(key) : id
}

/** A word of the catalogue by its id: what a sheet says, or how a fault shows; the id itself where there is none. */
export function wordOf(id: string) {
  const key = [`mode.${id}`, `word.${id}`].find(has)
  return key ? text(key) : id.replaceAll('-', ' ')
}

/** What is wrong, and how to mend it. */
export const explain = (p: Coded) => ({
  what: text(`problem.${p.code}.what`, p.params),
  mend: text(`problem.${p.code}.mend`, p.params),
})

/** A problem in one sentence. */
export function sentence(p: Coded | { what: string; mend: string }): string {
  const { what, mend } = 'what' in p ? p : explain(p)
  return capital(`${what}: ${mend}.`)
}

/** A line of the marks. */
export const reason = (r: Schema['Reason']) => text(`reason.${r.code}`, r.params)

/** What a test showed: a word, a figure with its unit, or over the limit. */
export function told(t: Schema['Told']): string {
  if (t.word)
    return text(`word.${t.word}`) + (t.falter_min ? `, ${text('line.at-minutes', { minutes: t.falter_min })}` : '')
  if (t.over) return text('word.over-limit')
  if (t.value === undefined) return ''
  return measure(t.value, t.unit)
}

/** Begins a text with a capital. */
export const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1)
