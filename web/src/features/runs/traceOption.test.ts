import { describe, expect, it } from 'vitest'
import { averaged, axisFloor, traceOption } from './traceOption'

const trace = {
  time_s: [0, 1, 2, 3],
  channels: { thrust_gf: [0, null, 500, 501], current_a: [0, 1, 9, 9] },
  thinned: false,
  row_count: 4,
  begin_s: 0,
  end_s: 3,
}
const result = {
  points: [
    { figures: {}, marks: {}, absent: {}, start_s: 1, used_from_s: 2, end_s: 3, settled: false },
  ],
  summary: {},
  absent: {},
  warnings: [],
  outliers: [{ channel: 'current_a', time_s: 1, value: 40 }],
}

interface Series {
  name: string
  data: unknown[]
  markArea?: { data: [{ xAxis: number; itemStyle: { color: string } }, { xAxis: number }][] }
}

describe('the trace of a run', () => {
  const series = traceOption(trace, ['thrust_gf', 'current_a'], result).series as Series[]

  it('leaves a gap where a sample is missing', () => {
    expect(series[0]?.data[1]).toEqual([1, null])
  })

  it('marks the part that was averaged, in another colour when it had not settled', () => {
    const area = series[0]?.markArea?.data[0]
    expect(area?.[0].xAxis).toBe(2)
    expect(area?.[1].xAxis).toBe(3)
    expect(area?.[0].itemStyle.color).toContain('216')
  })

  it('shows what was left out on its own channel only', () => {
    expect(series[3]?.data).toEqual([[1, 40]])
    expect(series[2]?.data).toEqual([])
  })

  it('says where it begins only where that is a round number and in sight', () => {
    const label = (begin_s: number, part?: [number, number]) =>
      (
        traceOption({ ...trace, begin_s }, ['thrust_gf'], null, part).xAxis as {
          axisLabel: { showMinLabel: boolean }
        }
      ).axisLabel.showMinLabel
    expect([label(0), label(1.05), label(0, [20, 30])]).toEqual([true, false, false])
  })

  it('can be drawn without figures', () => {
    expect(() => traceOption(trace, ['thrust_gf'], null)).not.toThrow()
  })
})

it('puts zero at the bottom unless the quantity lives far from it', () => {
  expect(axisFloor({ min: -2, max: 1200 })).toBe(0)
  expect(axisFloor({ min: 15.8, max: 16 })).toBe(15)
  expect(axisFloor({ min: -200, max: 1200 })).toBeUndefined()
})

describe('the averaged parts', () => {
  const point = (used_from_s: number, end_s: number, settled = true) => ({
    figures: {},
    marks: {},
    absent: {},
    start_s: used_from_s,
    used_from_s,
    end_s,
    settled,
  })

  it('of plateaus stay apart', () => {
    expect(averaged([point(1, 2), point(3, 4, false)])).toEqual([
      { from: 1, to: 2, settled: true },
      { from: 3, to: 4, settled: false },
    ])
  })

  it('of a sweep or a spin-up are one, however many points share them', () => {
    expect(averaged([point(5, 9), point(4, 8), point(4.5, 8.5)])).toEqual([
      { from: 4, to: 9, settled: true },
    ])
    expect(averaged(Array.from({ length: 70 }, () => point(3, 7)))).toHaveLength(1)
  })
})
