import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import './meanings'
import EnginePicture from './EnginePicture.vue'
import { pieces, terms } from './terms'
import { has } from './words'

describe('words of the trade', () => {
  it('each have a meaning of one line and a picture of their own part', () => {
    for (const t of terms) {
      expect(has(`term.${t.id}.name`), t.id).toBe(true)
      expect(has(`term.${t.id}.meaning`), t.id).toBe(true)
      const picture = mount(EnginePicture, { props: { part: t.part, label: t.id } })
      const drawn = picture.get('[data-part]').attributes('d')
      // Nothing but a cylinder is drawn as the cylinder that stands for what has no part.
      if (t.part !== 'cylinder')
        expect(drawn, t.part).not.toBe(
          mount(EnginePicture, { props: { part: 'cylinder', label: '' } })
            .get('[data-part]')
            .attributes('d'),
        )
    }
  })
  it('are found in a text once each, the longest first, and nothing of the text is lost', () => {
    const text = 'The main jet and the jets; a key is whole, a monkey is not. Main jet again.'
    const all = pieces(text)
    expect(all.map((p) => p.text).join('')).toBe(text)
    expect(all.filter((p) => p.term).map((p) => p.term!.id)).toEqual(['main-jet', 'key'])
    expect(pieces('Nothing of the kind.')).toEqual([{ text: 'Nothing of the kind.' }])
  })
})
