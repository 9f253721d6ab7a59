import { has, text } from '@/words/words'

/** What a test says, or where a number lies by the sheet, as it is printed too. */
export function said(word: string) {
  const key = ['word', 'band', 'print'].map((k) => `${k}.${word}`).find(has)
  return key ? text(key) : word.replaceAll('-', ' ')
}
