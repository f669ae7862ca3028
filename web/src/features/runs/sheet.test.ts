import { describe, expect, it } from 'vitest'
import words from '@/tests/words.json'
import { tell } from '@/words/words'
import {
  asText,
  cellFault,
  type Cells,
  cellsOf,
  COLUMNS,
  EVERY_COLUMN,
  isEmpty,
  pasted,
  readColumns,
  shownColumns,
  unitsOf,
} from './sheet'

tell(words as never)
const column = (key: string) => COLUMNS.find((one) => one.key === key) as (typeof COLUMNS)[number]

const USUAL = shownColumns(null, [])

describe('a sheet of readings', () => {
  it('holds numbers; an empty cell is not there, and words are no number', () => {
    const row = { throttle_pct: '50', scale_g: '1 742,5', voltage_v: '', current_a: 'much' }
    expect(cellsOf(row)).toEqual({ throttle_pct: 50, scale_g: 1742.5 })
    expect(cellFault(row, column('current_a'))).toContain('much')
    expect(cellFault(row, column('voltage_v'))).toBe('')
    expect(isEmpty({ scale_g: ' ' })).toBe(true)
  })

  it('takes a zero as a zero', () => {
    expect(cellsOf({ throttle_pct: '0', scale_g: '-223' })).toEqual({
      throttle_pct: 0,
      scale_g: -223,
    })
  })

  it('takes what is pasted from a spreadsheet, and adds rows', () => {
    const { rows, beyond } = pasted(
      [{ throttle_pct: '0' }],
      { row: 0, column: 1 },
      '-223\t16.4\r\n519\t16,0\t9.0\r\n',
      USUAL,
    )
    expect(beyond).toBe(0)
    expect(rows).toEqual([
      { throttle_pct: '0', scale_g: '-223', voltage_v: '16.4' },
      { scale_g: '519', voltage_v: '16,0', current_a: '9.0' },
    ])
  })

  it('says what found no column, and turns ounces into grams', () => {
    const { rows, beyond } = pasted([], { row: 0, column: 6 }, '104 °F\t7', USUAL)
    expect(rows).toEqual([{ motor_temp_c: '40' }])
    expect(beyond).toBe(1)
    expect(pasted([], { row: 0, column: 1 }, '10 oz', USUAL).rows[0]?.scale_g).toBe('283.5')
  })

  it('goes out with its heads and units', () => {
    const text = asText([{ throttle_pct: '50', scale_g: '519' }, {}], USUAL)
    expect(text.split('\n')).toHaveLength(2)
    expect(text).toContain('Scale shows (g)')
    expect(text.split('\n')[1]).toBe('50\t519\t\t\t\t\t')
  })

  it('goes out with what each row means, and nothing that a spreadsheet would reckon', () => {
    const columns = EVERY_COLUMN.filter(({ key }) => ['scale_g', 'clip'].includes(key))
    const rows: Cells[] = [
      { scale_g: '-223', clip: '=HYPERLINK("x")' },
      {},
      { scale_g: '742', clip: 'clip 3\tat 04:12' },
      { clip: '- later' },
    ]
    const looks = [
      { thrust_gf: 0, power_w: null },
      { thrust_gf: null },
      { thrust_gf: 965.0000001, efficiency_g_per_w: null },
      {},
    ]
    expect(asText(rows, columns, {}, looks).split('\n')).toEqual([
      'Scale shows (g)\tClip and time\tThrust (gf)',
      '-223\t\'=HYPERLINK("x")\t0',
      '742\tclip 3 at 04:12\t965',
      "\t'- later\t",
    ])
  })

  it('has a column for where a row can be seen, which is no reading', () => {
    const clip = EVERY_COLUMN.find(({ key }) => key === 'clip') as (typeof COLUMNS)[number]
    expect(shownColumns(null, []).includes(clip)).toBe(false)
    expect(shownColumns(['clip'], [])).toEqual([clip])
    expect(cellFault({ scale_g: '5', clip: 'clip 3 at 04:12' }, clip)).toBe('')
    expect(cellFault({ clip: 'clip 3' }, clip)).toContain('Nothing of this row was read yet')
    const { rows } = pasted([], { row: 0, column: 0 }, '10 oz', [clip])
    expect(rows).toEqual([{ clip: '10 oz' }])
    expect(isEmpty({ clip: 'clip 3' })).toBe(true)
  })

  it('says less than a number, and what is read later', () => {
    const row = { scale_g: '~900', power_w: '< 700', speed_rpm: '? clip 3 04:12', clip: 'clip 3' }
    expect(cellsOf(row)).toEqual({
      scale_g: { about: [900] },
      power_w: { below: [700] },
      speed_rpm: { later: 'clip 3 04:12' },
      clip: 'clip 3',
    })
  })

  it('is typed in the unit of its column, and sent in its own', () => {
    const units = { scale_g: 'oz', motor_temp_c: '°F' }
    expect(cellsOf({ scale_g: '10', motor_temp_c: '104' }, units)).toEqual({
      scale_g: 283.49523125,
      motor_temp_c: 40,
    })
    expect(cellsOf({ scale_g: '10-11' }, units)).toEqual({
      scale_g: { between: [283.49523125, 311.844754375] },
    })
    expect(asText([{ scale_g: '10' }], USUAL, units).split('\n')[0]).toContain('Scale shows (oz)')
    expect(unitsOf(column('scale_g'))).toContain('lb')
    expect(unitsOf(column('throttle_pct'))).toEqual(['%'])
  })

  it('has the columns of the instruments until somebody chooses', () => {
    const keys = (columns: readonly { key: string }[]) => columns.map(({ key }) => key)
    const shown = keys(shownColumns(null, ['thrust_gf', 'torque_nm']))
    expect(shown).toEqual(expect.arrayContaining(['throttle_pct', 'scale_g', 'torque_nm']))
    expect(shown.filter((key) => !keys(USUAL).includes(key))).toEqual(['torque_nm'])
    expect(keys(shownColumns(['scale_g'], ['voltage_v']))).toEqual(['scale_g'])
    expect(keys(USUAL)).not.toContain('charge_mah')
  })

  it('knows what other rows were read in', () => {
    const rows: Cells[] = [
      { throttle_pct: '0', scale_g: '0', voltage_v: '16.4' },
      { throttle_pct: '50', scale_g: '500', speed_rpm: '9000' },
      { throttle_pct: '100', scale_g: '900', duration_s: '3' },
    ]
    expect(readColumns([{ rows }])).toEqual(['scale_g', 'speed_rpm'])
  })
})
