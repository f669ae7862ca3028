import { expect, it } from 'vitest'
import { barsOf } from './bars'

const row = (key: string, value: number, u: number | null = 1, claims: number[] = []) => ({
  key,
  motor: 1,
  name: key,
  value,
  u,
  claims: claims.map((one) => ({ value: one, source: 'box' })),
})

it('sorts bars and leaves room for what is claimed', () => {
  const bars = barsOf([row('a', 50), row('b', 80, 2, [100])])
  expect(bars.map((bar) => bar.key)).toEqual(['b', 'a'])
  expect(bars[0]).toMatchObject({ from: 0, to: 80, low: 76, high: 84 })
  expect(bars[0]?.marks[0]?.at).toBe(100)
  expect(barsOf([row('a', 50), row('b', 80)], true).map((bar) => bar.key)).toEqual(['a', 'b'])
})

it('draws what is below nothing to the left of it', () => {
  const [up, down] = barsOf([row('a', 30, null), row('b', -10, null)])
  expect(up).toMatchObject({ from: 25, to: 100 })
  expect(down).toMatchObject({ from: 0, to: 25 })
  expect(barsOf([])).toEqual([])
  expect(barsOf([row('a', 0, null)])[0]).toMatchObject({ from: 0, to: 0 })
})
