import { expect, it } from 'vitest'
import { figureLetters, STILL, tableLayout } from './stills'

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

it('writes a figure as large as it fits, and a long one smaller', () => {
  const figure = (value: string, u = '', unit = 'gf') => ({ label: 'l', value, u, unit, words: '' })
  expect(figureLetters(figure('8'))).toBe(300)
  const long = figureLetters(figure('123,456.789', '0.012', 'rpm/V'))
  expect(long).toBeLessThan(200)
  // Value, ± and unit stay inside: a letter is at most two thirds of its height wide.
  expect(long * 0.66 * (11 + 0.55 * (6 + 8))).toBeLessThanOrEqual(STILL.width - 120)
  expect(figureLetters(figure('', '', ''))).toBeLessThanOrEqual(300)
})
