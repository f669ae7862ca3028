import { describe, expect, it } from 'vitest'
import words from '@/tests/words.json'
import { tell } from '@/words/words'
import { asText, cellFault, COLUMNS, isEmpty, numbersOf, pasted } from './sheet'

tell(words as never)
const column = (key: string) => COLUMNS.find((one) => one.key === key) as (typeof COLUMNS)[number]

describe('a sheet of readings', () => {
  it('holds numbers; an empty cell is not there, and words are no number', () => {
    const row = { throttle_pct: '50', scale_g: '1 742,5', voltage_v: '', current_a: 'much' }
    expect(numbersOf(row)).toEqual({ throttle_pct: 50, scale_g: 1742.5 })
    expect(cellFault(row, column('current_a'))).toContain('much')
    expect(cellFault(row, column('voltage_v'))).toBe('')
    expect(isEmpty({ scale_g: ' ' })).toBe(true)
  })

  it('takes a zero as a zero', () => {
    expect(numbersOf({ throttle_pct: '0', scale_g: '-223' })).toEqual({
      throttle_pct: 0,
      scale_g: -223,
    })
  })

  it('takes what is pasted from a spreadsheet, and adds rows', () => {
    const { rows, beyond } = pasted(
      [{ throttle_pct: '0' }],
      { row: 0, column: 1 },
      '-223\t16.4\r\n519\t16,0\t9.0\r\n',
    )
    expect(beyond).toBe(0)
    expect(rows).toEqual([
      { throttle_pct: '0', scale_g: '-223', voltage_v: '16.4' },
      { scale_g: '519', voltage_v: '16,0', current_a: '9.0' },
    ])
  })

  it('says what found no column, and turns ounces into grams', () => {
    const { rows, beyond } = pasted([], { row: 0, column: 6 }, '104 °F\t7')
    expect(rows).toEqual([{ motor_temp_c: '40' }])
    expect(beyond).toBe(1)
    expect(pasted([], { row: 0, column: 1 }, '10 oz').rows[0]?.scale_g).toBe('283.5')
  })

  it('goes out with its heads and units', () => {
    const text = asText([{ throttle_pct: '50', scale_g: '519' }, {}])
    expect(text.split('\n')).toHaveLength(2)
    expect(text).toContain('Scale shows (g)')
    expect(text.split('\n')[1]).toBe('50\t519\t\t\t\t\t')
  })
})
