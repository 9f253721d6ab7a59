import { createI18n } from 'vue-i18n'
import en from '@messages/en.json'

export type Tree = { [key: string]: string | Tree }

/** The messages of a language by their whole key: keys are looked up, not walked. */
export function flat(tree: Tree, at = '', out: Record<string, string> = {}): Record<string, string> {
  for (const [key, v] of Object.entries(tree)) {
    if (typeof v === 'string') out[at + key] = v
    else flat(v, `${at}${key}.`, out)
  }
  return out
}

/** The words of the page: the same files as the server and the command line read. */
export const i18n = createI18n({
  legacy: false,
  locale: 'en',
  fallbackLocale: 'en',
  messages: { en: flat(en as Tree) },
  messageResolver: (messages, path) => (messages as Record<string, string>)[path] ?? null,
  missingWarn: false,
  fallbackWarn: false,
})
