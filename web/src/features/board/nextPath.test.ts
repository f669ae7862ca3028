import { expect, it } from 'vitest'
import { nextPath } from './nextPath'

it('leads each proposed act to its station, with the motor in hand', () => {
  expect(nextPath('intake', 3)).toBe('/intake/3/claims')
  expect(nextPath('teardown', 3)).toBe('/teardown?motor=3')
  expect(nextPath('bench', 3)).toBe('/bench?motor=3')
  expect(nextPath('compare', 3)).toBe('/compare?motor=3')
})
