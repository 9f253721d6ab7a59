import { expect, it } from 'vitest'
import lines from '../../../../core/shop/testdata/device-lines.json'
import { readDevice } from './device'

it('reads the lines of a device as the server does', () => {
  for (const l of lines.good) expect(readDevice(l.line), l.line).toEqual(l.is)
  for (const l of lines.bad) expect(readDevice(l), l).toBeUndefined()
})
