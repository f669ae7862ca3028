import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { runMarks } from '@/figures/motorMark'
import { comparisonOption, comparisonTable, shortNames, spreadLabels } from './comparisonOption'

const run = (id: number, motor: string, sample: string, prop: string) =>
  ({
    id,
    motor: id,
    motor_name: motor,
    sample_mark: sample,
    propeller_name: prop,
  }) as Schemas['Run']

const curve = {
  x_name: 'thrust_gf',
  y_name: 'power_w',
  x: [0, 500],
  y: [0, 150],
  points_x: [0, 250, 500],
  points_y: [0, 60, 150],
  points_u: [0, 0.5, 1],
}
const comparison = {
  runs: [
    run(1, 'Ostrel Drift 2206 1900', 'A', 'Wickett 5.1x4.2x3'),
    run(7, 'Ostrel Drift 2206 1900', 'B', 'Wickett 5.1x4.2x3'),
  ],
  curves: [[curve], []],
} as unknown as Schemas['Comparison']

describe('short names at line ends', () => {
  it('say only what differs', () => {
    expect(shortNames(comparison.runs)).toEqual(['#1 sample A', '#7 sample B'])
    expect(
      shortNames([
        run(1, 'Ostrel Drift 2206', 'A', 'W 5x3x3'),
        run(2, 'Hollin Pale 2807', 'A', 'W 6x4x2'),
      ]),
    ).toEqual(['#1 Drift 2206 5x3x3', '#2 Pale 2807 6x4x2'])
  })
})

describe('the drawn comparison', () => {
  const option = comparisonOption(comparison, runMarks([1, 1]), 'thrust_gf', 'power_w', 250, 300)
  const series = option.series as { type: string; data: number[][]; markLine?: unknown }[]

  it('draws a line, its points and their ±2u, and nothing for a run without the curve', () => {
    expect(series.map((s) => s.type)).toEqual(['line', 'scatter', 'custom'])
    expect(series[2]?.data[1]).toEqual([250, 59, 61])
  })

  it('ends where the curve was measured', () => {
    expect(series[0]?.data.at(-1)).toEqual([500, 150])
  })

  it('shows the pinned comparison point', () => {
    expect(series[0]?.markLine).toBeDefined()
  })
})

describe('names at line ends', () => {
  it('keep their order and a least distance', () => {
    expect(spreadLabels([100, 101, 50], 10)).toEqual([100, 110, 50])
    expect(spreadLabels([5, 5, 5], 1)).toEqual([5, 6, 7])
    expect(spreadLabels([], 1)).toEqual([])
  })
})

it('exports the measured points with their u', () => {
  const table = comparisonTable(comparison, 'thrust_gf', 'power_w')
  expect(table.columns.at(-1)).toBe('u_power_w')
  expect(table.rows).toHaveLength(3)
  expect(table.rows[1]).toEqual([1, 'Ostrel Drift 2206 1900 A', 'Wickett 5.1x4.2x3', 250, 60, 0.5])
})
