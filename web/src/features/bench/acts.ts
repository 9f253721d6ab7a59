import type { Schema } from '@/api/client'
import { text } from '@/words/words'

/** An act in a few words, for the line of those that wait to be sent. */
export function inWords(e: Schema['Event'], family?: Schema['Family']): string {
  const name = (list: { id: string; name: string }[] | undefined, id?: string) =>
    list?.find((x) => x.id === id)?.name ?? id ?? ''
  const read = e.word ? text(`word.${e.word}`) : `${e.reading ?? ''} ${e.unit ?? ''}`.trim()
  switch (e.kind) {
    case 'control':
      return Object.entries(e.control ?? {})
        .map(([id, to]) => `${name(family?.controls, id)}: ${String(to)}`)
        .join(', ')
    case 'take':
      return family?.tests.find((t) => t.id === e.test)?.title ?? e.test ?? ''
    case 'by-hand':
      return `${family?.tests.find((t) => t.id === e.test)?.title ?? e.test ?? ''}: ${read}`
    case 'act':
      return text('act.instrument', { act: e.act })
    case 'entry':
      return text('act.write', { what: read })
    case 'mark':
      return text('act.mark', { where: name(family?.reaches, e.reach) })
    case 'cover':
      return text(e.off ? 'act.cover-off' : 'act.cover-on', { what: name(family?.covers, e.cover) })
    case 'repair':
      return `${name(family?.acts, e.repair)}: ${name(family?.reaches, e.reach)}`
    case 'wait':
      return text('tray.stand-for', { minutes: e.minutes })
    case 'do':
      return name(family?.actions, e.do)
    case 'page':
      return text(e.why ? 'page.leave' : 'page.back')
  }
  return e.kind
}
