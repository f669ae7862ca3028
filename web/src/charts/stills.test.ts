import { expect, it } from 'vitest'
import { STILL, tableLayout } from './stills'

const table = (rows: number, columns = 3) => ({
  title: 't',
  heads: Array.from({ length: columns }, (_, k) => `head ${k}`),
  rows: Array.from({ length: rows }, () => Array.from({ length: columns }, () => '1,100 ± 12')),
})

it('is 16:9', () => {
  expect(STILL.width / STILL.height).toBeCloseTo(16 / 9)
})

it('writes few rows large, many smaller, and never beyond the picture', () => {
  const few = tableLayout(table(4))
  const many = tableLayout(table(30))
  expect(few.letters).toBeGreaterThan(40)
  expect(many.letters).toBeLessThan(few.letters)
  expect(many.step * 31).toBeLessThan(STILL.height - 200)
  const last = few.columns.at(-1)
  expect((last?.x ?? 0) + (last?.width ?? 0)).toBeLessThanOrEqual(STILL.width - 60 + 0.001)
})

it('fills in as many rows as are shown, and an empty table breaks nothing', () => {
  expect(tableLayout(table(5), 2).shown).toBe(2)
  expect(tableLayout(table(5), 9).shown).toBe(5)
  expect(tableLayout({ title: '', heads: [], rows: [] }).columns).toEqual([])
})
