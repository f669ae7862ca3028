import { expect, it } from 'vitest'
import { asKept, asText } from './percent'

it.each([
  [0.015, 100, '1.5'],
  [0.0008, 100, '0.08'],
  [0.004, 1000, '4'],
  [0.29, 100, '29'],
  [null, 100, ''],
  [undefined, 1, ''],
  [0, 100, '0'],
])('%s × %s is %s and back', (value, times, text) => {
  expect(asText(value, times)).toBe(text)
  expect(asKept(text, times)).toBe(value ?? null)
})

it('text that is no number never becomes unknown', () => {
  expect(() => asKept('some', 100)).toThrow('some')
  expect(asKept(' ', 100)).toBeNull()
  expect(asKept('1,5', 100)).toBe(0.015)
})
