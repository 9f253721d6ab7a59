import './debrief'
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import cases from '@messages/testdata/texts.json'
import { explain, has, sentence, text, told } from './words'
import './handing'
import './office'
import './shop'
import './steps'
import './talk'
import './hear'
import './lesson'
import './meanings'
import './wall'
import './yard'

describe('the words', () => {
  // The server and the command line are held against the same cases.
  it.each(cases)('say $key as everywhere', (c) => expect(text(c.key, c.params)).toBe(c.text))
  it('explain a problem, in parts and in a sentence', () => {
    const p = { code: 'setup.out-of-range', params: { value: 3, low: 0.5, high: 2.25 } }
    expect(explain(p)).toEqual({ what: '3 is out of range', mend: 'write a number from 0.5 to 2.25' })
    expect(sentence(p)).toBe('3 is out of range: write a number from 0.5 to 2.25.')
  })
  it('tell what a test showed', () => {
    expect(told({ value: 131.4, unit: 'psi' })).toBe('131 psi')
    expect(told({ value: 0.6543, unit: 'mm' })).toBe('0.654 mm')
    expect(told({ over: true, unit: 'Ω' })).toBe(text('word.over-limit'))
    expect(told({ word: 'no-fire' })).toBe('no fire')
    expect(told({})).toBe('')
  })
  it('are there for every key that the page asks for', () => {
    const asked: string[] = []
    const walk = (dir: string) => {
      for (const f of readdirSync(dir)) {
        const path = join(dir, f)
        if (statSync(path).isDirectory()) walk(path)
        else if (/\.(vue|ts)$/.test(f) && !/test/.test(f)) {
          const code = readFileSync(path, 'utf8')
          for (const m of code.matchAll(/text\('([\w.-]+)'/g)) asked.push(m[1])
          for (const m of code.matchAll(/code: '([\w.-]+)'/g))
            asked.push(`problem.${m[1]}.what`, `problem.${m[1]}.mend`)
        }
      }
    }
    walk(join(__dirname, '..'))
    expect(asked.length).toBeGreaterThan(15)
    expect(asked.filter((key) => !has(key))).toEqual([])
  })
})
