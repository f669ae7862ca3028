import { expect, it } from 'vitest'
import { axis, niceCeil, PAPER } from './theme'

it.each([
  [485, 500],
  [984, 1000],
  [23.2, 30],
  [1000, 1000],
  [0.012, 0.015],
  [0, 1],
])('an axis up to %s ends at %s', (value, end) => expect(niceCeil(value)).toBeCloseTo(end))

it('names quantity and unit on every axis', () => {
  expect(axis(PAPER, 'thrust_gf', true).name).toBe('Thrust (gf)')
})
