import { describe, expect, it } from 'vitest'
import { tell, type Words } from '@/words/words'
import vocabulary from '@/tests/words.json'
import { band, type Picture, pictureLabel, pictureOption } from './picture'

tell(vocabulary as unknown as Words)

const curve = [
  { throttle_pct: 60, figures: [{ name: 'thrust_gf', value: 500, u: 30 }] },
  {
    throttle_pct: 20,
    figures: [
      { name: 'thrust_gf', value: 60, u: 40 },
      { name: 'current_a', value: 1, u: 0.2 },
    ],
  },
]
const aPicture = (shape: Picture['shape'], rows: Picture['rows']): Picture => ({
  shape,
  rows,
  says: '',
})
const row = (x: number, values: Record<string, number>, series = '') => ({ x, values, series })
type Drawn = { data?: unknown[]; stack?: string; areaStyle?: object; markArea?: object }
const seriesOf = (picture: Picture, expected = [] as never[], ceiling: number | null = null) =>
  (pictureOption(picture, curve, expected, ceiling)?.series ?? []) as Drawn[]

describe('the band of what was expected', () => {
  it('lies two u on either side, in the order of the throttle, and never below zero', () => {
    expect(band(curve, 'thrust_gf')).toEqual({
      low: [
        [20, 0],
        [60, 440],
      ],
      height: [
        [20, 140],
        [60, 120],
      ],
    })
  })

  it('is not drawn from one throttle, and not where nothing was expected', () => {
    expect(band(curve, 'current_a').low).toHaveLength(1)
    expect(band(curve, 'power_w').low).toEqual([])
    const drawn = seriesOf(aPicture('curve', [row(20, { thrust_gf: 66, current_a: 1 }, 'plateau')]))
    // One band for thrust (two lines), and a curve each for thrust and current.
    expect(drawn.filter((one) => one.stack)).toHaveLength(2)
    expect(drawn).toHaveLength(4)
  })
})

describe('the live picture of each kind', () => {
  it('draws a sweep up and down as two curves of each channel', () => {
    const drawn = seriesOf(
      aPicture('curve', [
        row(40, { thrust_gf: 240, current_a: 3 }, 'up'),
        row(60, { thrust_gf: 490 }, 'up'),
        row(40, { thrust_gf: 236, current_a: 3.1 }, 'down'),
      ]),
    ).filter((one) => !one.stack)
    expect(drawn.map((one) => one.data)).toEqual([
      [
        [40, 240],
        [60, 490],
      ],
      [[40, 236]],
      [[40, 3]],
      [[40, 3.1]],
    ])
  })

  it('draws bursts as bars within what was expected', () => {
    const expected = [{ name: 'sustained_thrust_gf', value: 1170, u: 38 }] as never[]
    const [bars] = seriesOf(aPicture('bars', [row(1, { thrust_gf: 1162 }), row(2, {})]), expected)
    expect(bars?.data).toEqual([1162, Number.NaN])
    expect(JSON.stringify(bars?.markArea)).toContain('1094')
  })

  it('draws held thrusts as what they miss', () => {
    const [bars] = seriesOf(
      aPicture('targets', [row(250, { thrust_gf: 249 }), row(500, { thrust_gf: 503 })]),
    )
    expect(bars?.data).toEqual([-1, 3])
  })

  it('draws a curve a spin-up and a cycle', () => {
    const rows = [
      row(4000, { torque_nm: 0.3, speed_rpm: 1 }, 'spin-up 1 of 2'),
      row(4000, { torque_nm: 0.31, speed_rpm: 2 }, 'spin-up 2 of 2'),
    ]
    expect(seriesOf(aPicture('torque', rows))).toHaveLength(2)
    expect(seriesOf(aPicture('cycles', rows)).map((one) => one.data)).toEqual([
      [[4000, 1]],
      [[4000, 2]],
    ])
  })

  it('marks where a case would settle and where it is cut', () => {
    const rows = [row(0, { motor_temp_c: 40 }, 'case'), row(9, { motor_temp_c: 72 }, 'settles at')]
    const drawn = JSON.stringify(seriesOf(aPicture('heating', rows), [], 95))
    expect(drawn).toContain('{"yAxis":72,"name":"settles"}')
    expect(drawn).toContain('{"yAxis":95,"name":"limit"}')
    expect(JSON.stringify(seriesOf(aPicture('heating', rows.slice(0, 1))))).not.toContain('yAxis"')
  })

  it('draws nothing where there is nothing, and says what it draws', () => {
    expect(pictureOption(aPicture('none', []), [], [])).toBeNull()
    for (const shape of ['curve', 'bars', 'targets', 'converging', 'torque', 'cycles', 'heating'])
      expect(pictureLabel(aPicture(shape as Picture['shape'], []))).not.toBe('')
  })
})
