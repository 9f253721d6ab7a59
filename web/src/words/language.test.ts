import { afterEach, describe, expect, it, vi } from 'vitest'

/** The words as a page has them that was loaded in a language. */
const spoken = async (language: string) => {
  localStorage.setItem('language', language)
  vi.resetModules()
  return { ...(await import('./words')), ...(await import('./i18n')) }
}
afterEach(() => localStorage.clear())

describe('the language of the page', () => {
  it('is the one that was chosen, with its decimal mark and its own page language', async () => {
    const es = await spoken('es')
    expect(es.language).toBe('es')
    expect(document.documentElement.lang).toBe('es')
    expect(es.text('tray.tests')).toBe('Pruebas')
    expect(es.figure(1.25)).toBe('1,25')
    expect(es.told({ value: 0.7, unit: 'mm' })).toBe('0,7 mm')
    expect(es.text('line.at-minutes', { minutes: '2.5' })).toContain('2,5')
    expect(es.text('line.at-minutes', { minutes: '1.1.2' }), 'a version is no number').toContain('1.1.2')
    const en = await spoken('en')
    expect(en.text('tray.tests')).toBe('Tests')
    expect(en.figure(1.25)).toBe('1.25')
  })

  it('brings the words of a part in the same language', async () => {
    const es = await spoken('es')
    await import('./office')
    expect(es.text('office.new-class')).toBe('Nueva clase')
  })

  it('is English where nothing known was chosen, and goes over only where that can be kept', async () => {
    const page = await spoken('xx')
    expect(page.language).toBe('en')
    const reload = vi.spyOn(location, 'reload').mockImplementation(() => undefined)
    page.adopt('en')
    page.adopt('xx')
    page.adopt(undefined)
    expect(reload).not.toHaveBeenCalled()
    page.adopt('es')
    expect(reload).toHaveBeenCalledOnce()
    expect(localStorage.getItem('language')).toBe('es')
  })
})
