import { expect, it } from 'vitest'
import { nextMark } from './nextMark'

it('takes the first free letter, whatever the case', () => {
  expect(nextMark([])).toBe('A')
  expect(nextMark(['a', 'C'])).toBe('B')
})

it('goes on with numbers when the letters are used up', () => {
  const all = Array.from({ length: 26 }, (_, i) => String.fromCharCode(65 + i))
  expect(nextMark(all)).toBe('27')
  expect(nextMark([...all, '27'])).toBe('28')
})
