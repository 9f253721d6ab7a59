import { createI18n } from 'vue-i18n'
import en from '@messages/en.json'

export type Tree = { [key: string]: string | Tree }

/** The languages that there are, each by its own name. */
export const LANGUAGES = { en: 'English', es: 'Español' } as const
export type Language = keyof typeof LANGUAGES
const isLanguage = (x: string | null): x is Language => x !== null && x in LANGUAGES

/** The messages of a language by their whole key: keys are looked up, not walked. */
export function flat(tree: Tree, at = '', out: Record<string, string> = {}): Record<string, string> {
  for (const [key, v] of Object.entries(tree)) {
    if (typeof v === 'string') out[at + key] = v
    else flat(v, `${at}${key}.`, out)
  }
  return out
}

const KEPT = 'language'
const kept = () => {
  try {
    return localStorage.getItem(KEPT)
  } catch {
    return null // nothing can be kept here
  }
}
/** The language that was chosen on this device, or that of the browser where none was. */
export const language: Language = (() => {
  const chosen = kept()
  const told = navigator.language?.slice(0, 2) ?? ''
  return isLanguage(chosen) ? chosen : isLanguage(told) ? told : 'en'
})()

/**
 * Keeps a choice on this device, and shows the page anew in it. What is typed is kept as on any
 * reload. Where a device keeps nothing the page stays as it is, or it would load for ever.
 */
export function speak(to: Language) {
  try {
    localStorage.setItem(KEPT, to)
    if (kept() === to) location.reload()
  } catch {
    return // nothing can be kept
  }
}

/** Goes over to the language that somebody has chosen before, where the page is in another. */
export function adopt(chosen?: string) {
  if (chosen && isLanguage(chosen) && chosen !== language) speak(chosen)
}

/** A message file of another language than English, fetched when it is wanted. */
type Others = Record<Exclude<Language, 'en'>, () => Promise<{ default: Tree }>>
const inOwn = async (english: Tree, others: Others) =>
  flat(language === 'en' ? english : (await others[language]()).default)

/** The words of the page: the same files as the server and the command line read. */
export const i18n = createI18n({
  legacy: false,
  locale: language,
  fallbackLocale: 'en',
  messages: { [language]: await inOwn(en, { es: () => import('@messages/es.json') }) },
  messageResolver: (messages, path) => (messages as Record<string, string>)[path] ?? null,
  missingWarn: false,
  fallbackWarn: false,
})
document.documentElement.lang = language

/** Puts the words of a part to those of the page. */
export async function part(english: Tree, others: Others) {
  i18n.global.mergeLocaleMessage(language, await inOwn(english, others))
}
