import { describe, expect, it } from 'vitest'
import { tell } from '@/words/words'
import words from '@/tests/words.json'
import { bodyOf, ESC, STAND, SUPPLY } from './facts'

tell(words as never)

describe('what is known of the rig', () => {
  it('goes out in the units of the record, and unknown as null', () => {
    const typed = {
      name: 'Scale',
      kind: 'lever',
      repeatability: '1,5',
      calibration: '',
      live: 'no',
    }
    expect(bodyOf(STAND, typed)).toEqual({
      name: 'Scale',
      kind: 'lever',
      repeatability_rel: 0.015,
      calibration_rel: null,
      live: false,
      note: '',
    })
  })

  it('a pack sends nothing of a bench supply, and the other way round', () => {
    const typed = { name: 'x', kind: 'pack', cells: '4', mohm: '12', trip_a: '30', rate_c: '' }
    const pack = bodyOf(SUPPLY, typed)
    expect(pack).toMatchObject({ cells: 4, resistance_ohm: 0.012, rate_c: null })
    expect(pack).not.toHaveProperty('trip_a')
    const psu = bodyOf(SUPPLY, { ...typed, kind: 'psu', folds_back: 'yes' })
    expect(psu).toMatchObject({ trip_a: 30, folds_back: true })
    expect(psu).not.toHaveProperty('cells')
  })

  it('text that is no number is never sent as unknown', () => {
    expect(() => bodyOf(SUPPLY, { name: 'x', kind: 'pack', cells: 'four' })).toThrow('four')
  })

  it('settings of an ESC are names and values', () => {
    const settings = ESC.find((field) => field.key === 'settings')
    const typed = { name: 'Tarn', settings: 'timing = 16°; drive=a=b;', linear: '' }
    expect(bodyOf(ESC, typed)).toMatchObject({
      settings: { timing: '16°', drive: 'a=b' },
      linear: null,
    })
    expect(settings?.fault?.('timing 16')).toContain('name = value')
    expect(settings?.read({ id: 1, version: 1, settings: { a: '1', b: '2' } })).toBe('a = 1; b = 2')
  })

  it('what stands there is shown as it is typed', () => {
    const row = { id: 1, version: 3, name: 'x', kind: 'psu', resistance_ohm: 0.004, linear: false }
    const read = (fields: typeof SUPPLY, key: string) =>
      fields.find((field) => field.key === key)?.read(row)
    expect(read(SUPPLY, 'mohm')).toBe('4')
    expect(read(SUPPLY, 'trip_a')).toBe('')
    expect(read(ESC, 'linear')).toBe('no')
  })
})
