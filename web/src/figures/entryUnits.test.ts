/** Numbers typed with a unit that is not the field's. */
import { describe, expect, it } from 'vitest'
import { entered, withoutOwnUnit } from './entryUnits'

describe('a number with another unit', () => {
  it.each([
    ['1.1 in', 'mm', '27.94', '1.1 in'],
    ['1,1"', 'mm', '27.94', '1,1 in'],
    ['27.940in', 'mm', '709.676', '27.940 in'],
    ['1.02 oz', 'g', '28.917', '1.02 oz'],
    ['1 oz', 'g', '28.3', '1 oz'],
    ['1 200 g', 'kg', null, ''],
    ['212 °F', '°C', '100', '212 °F'],
    ['-40 F', '°C', '-40', '-40 °F'],
    ['0.072 Ω', 'mΩ', '72', '0.072 Ω'],
    ['1,234 lb', 'g', null, ''],
    ['about 3 oz', 'g', null, ''],
    ['oz', 'g', null, ''],
    ['28.6', 'g', null, ''],
    ['28.6 g', 'g', null, ''],
    ['3 oz 2', 'g', null, ''],
    ['3 in', 'g', null, ''],
    ['', 'g', null, ''],
  ])('%s into %s', (text, unit, expected, typed) => {
    const found = entered(text, unit)
    expect(found?.text ?? null).toBe(expected)
    expect(found?.typed ?? '').toBe(typed)
  })

  it('keeps the step of the last digit that was typed, so that u is not too small', () => {
    expect(entered('1.02 oz', 'g')?.step).toBeCloseTo(0.2835, 4)
    expect(entered('28 oz', 'g')?.step).toBeCloseTo(28.35, 2)
  })

  it.each([
    ['28.6 g', 'g', '28.6'],
    ['28.6G', 'g', '28.6'],
    ['28.6 mg', 'g', '28.6 mg'],
    ['five', 'g', 'five'],
    ['14', '', '14'],
  ])('the own unit says nothing new: %s', (text, unit, expected) => {
    expect(withoutOwnUnit(text, unit)).toBe(expected)
  })
})
