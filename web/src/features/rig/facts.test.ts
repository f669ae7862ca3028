import { describe, expect, it } from 'vitest'
import { tell } from '@/words/words'
import words from '@/tests/words.json'
import { adapterSizes } from './adapters'
import { ADAPTER, bodyOf, ESC, STAND, SUPPLY } from './facts'

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

  it('a joined supply sends nothing that follows from its packs, nor how it is joined', () => {
    const typed = { name: 'x', kind: 'pack', joined: 'series', cells: '6', mohm: '3', cycles: '4' }
    expect(bodyOf(SUPPLY, typed)).toEqual({ name: 'x', kind: 'pack', cycles: 4, note: '' })
    const shown = SUPPLY.filter((field) => !field.when || field.when(typed))
    expect(shown.map((one) => one.key)).toEqual(['name', 'kind', 'joined', 'cycles', 'note'])
  })

  it('an adapter sends the sizes of its kind only', () => {
    const typed = { name: 'x', kind: 'clamp_plate', inner_mm: '5,2', stud_mm: '4', hole_mm: '' }
    expect(bodyOf(ADAPTER, typed)).toEqual({
      name: 'x',
      kind: 'clamp_plate',
      inner_mm: 5.2,
      hole_circle_mm: null,
      hole_mm: null,
      note: '',
    })
  })

  it('an adapter says its sizes with their units, and what nobody measured', () => {
    const stud = { stud_mm: 5, free_length_mm: 13, nut_mm: null, washer_mm: 0.5 }
    const told = (row: Parameters<typeof adapterSizes>[0]) =>
      adapterSizes(row).replaceAll('\u202f', ' ')
    expect(told({ kind: 'collet', least_mm: 2.9, most_mm: 3.2, grip_mm: 8, ...stud })).toBe(
      'on shafts of 2.9 to 3.2 mm, grips 8 mm deep; stud 5 mm, 13 mm free, nut not measured, washer 0.5 mm',
    )
    expect(told({ kind: 'bolt_on', hole_mm: 2.2, hole_circle_mm: 9, ...stud, nut_mm: 5 })).toBe(
      'holes 2.2 mm on a circle of 9 mm, bore not measured; stud 5 mm, 13 mm free, nut 5 mm, washer 0.5 mm',
    )
    expect(told({ kind: 'ring', inner_mm: 5, outer_mm: 8, height_mm: 6 })).toBe(
      'over 5 mm, into 8 mm, 6 mm high',
    )
    expect(told({ kind: 'clamp_plate', inner_mm: 5.2, hole_circle_mm: 12 })).toBe(
      'over 5.2 mm, holes ? mm on a circle of 12 mm',
    )
  })
})
