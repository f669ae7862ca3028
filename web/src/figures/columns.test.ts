import { describe, expect, it } from 'vitest'
import { columnLook } from './columns'
import { textAt } from './format'

const written = (figures: { value: number; u?: number }[]) => {
  const { decimals } = columnLook(figures)
  return figures.map((one) => Object.values(textAt(one.value, one.u, decimals)))
}

describe('a column of figures', () => {
  it('has one number of decimals from its first row to its last', () => {
    const column = written([
      { value: 0.0888, u: 0.001 },
      { value: 1.3284, u: 0.0008 },
      { value: 32.79, u: 0.04 },
    ])
    expect(column).toEqual([
      ['0.089', '0.001'],
      ['1.328', '0.001'],
      ['32.790', '0.040'],
    ])
  })

  it.each([
    [[{ value: 1123.52, u: 0.8 }], [['1,123.5', '0.8']]],
    [[{ value: 1123.52, u: 12 }], [['1,124', '12']]],
    [[{ value: 123456, u: 0.02 }], [['123,456', '<1']]],
    [[{ value: -0.004, u: 0.2 }], [['0.00', '0.20']]],
    [
      [{ value: 20 }, { value: 100 }],
      [
        ['20', ''],
        ['100', ''],
      ],
    ],
    [
      [{ value: 20.5 }, { value: 100 }],
      [
        ['20.5', ''],
        ['100.0', ''],
      ],
    ],
    [[{ value: 5, u: 0 }], [['5', '']]],
    [[], []],
  ])('writes %j as %j', (figures, texts) => {
    expect(written(figures as { value: number; u?: number }[])).toEqual(texts)
  })

  it('never says that something is exact', () => {
    const [, u] = Object.values(textAt(5, 0.0001, 2))
    expect(u).toBe('<0.01')
  })

  it('leaves room for its longest text, and ignores what is absent', () => {
    const look = columnLook([
      { value: null },
      undefined,
      { value: 9.5, u: 0.1 },
      { value: 1234.5, u: 0.1 },
    ])
    expect(look).toEqual({ decimals: 1, value_ch: 7, u_ch: 3 })
  })
})
