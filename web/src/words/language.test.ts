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

  it('has the units of the language for what was measured, and not for what was typed', async () => {
    const moved = { of: ['compression-dry'], conditions: [], error: -10, unit: 'psi' }
    const misread = { of: ['compression-dry'], slip: '@slip.unit', shown: '90.0 psi', typed: '90 psi' }
    const es = await spoken('es')
    await import('./debrief')
    expect(es.told({ value: 90, unit: 'psi' })).toBe('621 kPa')
    expect(es.measures(90, 120, 'psi')).toBe('621–827 kPa')
    expect(es.measures(0.7, 0.85, 'mm')).toBe('0,7–0,85 mm')
    expect(es.text('reason.reading.invalid-by', moved)).toContain('-68,95 kPa')
    expect(es.text('reason.reading.misread', misread)).toMatch(/621 kPa.*90 psi|90 psi.*621 kPa/)
    const en = await spoken('en')
    await import('./debrief')
    expect(en.told({ value: 90, unit: 'psi' })).toBe('90 psi')
    expect(en.measures(90, 120, 'psi')).toBe('90–120 psi')
    expect(en.text('reason.reading.misread', misread)).toContain('90.0 psi')
  })

  it('brings the words of a part in the same language', async () => {
    const es = await spoken('es')
    await import('./office')
    expect(es.text('office.new-class')).toBe('Nueva clase')
  })

  it.each(['en', 'es'])('finds the words of the trade in the texts of %s', async (language) => {
    const { text } = await spoken(language)
    const { pieces } = await import('./terms')
    const found = (key: string) => pieces(text(key)).flatMap((p) => p.term?.id ?? [])
    expect(found('test.jet-look.cannot')).toEqual(['emulsion', 'main-jet'])
    expect(found('test.float-check.teaches')).toEqual(['needle'])
    expect(found('test.key-look.cannot')).toEqual(['key', 'flywheel'])
    expect(found('test.spark-gap.teaches')).toEqual(['plug-boot'])
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
