import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { runMarks } from '@/figures/motorMark'
import { aComparison, aCurve, aSubject } from '@/tests/comparisonServer'
import { askedIn, axesIn, axesText, numbersIn } from './asked'
import { comparisonStill } from './comparisonStill'
import {
  bandsOf,
  comparisonOption,
  comparisonTable,
  pointed,
  quotedOn,
  readAt,
  shortNames,
  spreadLabels,
} from './curves'

describe('short names at line ends', () => {
  it('say only what differs', () => {
    expect(shortNames([aSubject(1), aSubject(7, { samples: ['B'] })])).toEqual([
      'sample A',
      'sample B',
    ])
    expect(
      shortNames([
        aSubject(1, { propeller_name: 'W 5x3x3', propeller_short: '5x3x3' }),
        aSubject(2, {
          motor_name: 'Fennick & Daw Teal 1404',
          motor_short: 'Teal 1404',
          propeller_name: 'W 6x4x2',
          propeller_short: '6x4x2',
        }),
      ]),
    ).toEqual(['Drift 2206 1900 · 5x3x3', 'Teal 1404 · 6x4x2'])
    expect(
      shortNames([aSubject(1), aSubject(2, { setup: 'Yard stand, after: leads cut, 03 Oct' })]),
    ).toEqual(['#1', 'Yard stand, after: leads cut, 03 Oct'])
  })

  it('name samples beside a motor of which several are compared', () => {
    expect(
      shortNames([
        aSubject(1),
        aSubject(2, { motor_name: 'Brackwater No. 4', motor_short: 'No. 4' }),
        aSubject(3, { motor_name: 'Brackwater No. 4', motor_short: 'No. 4', samples: ['B'] }),
      ]),
    ).toEqual(['Drift 2206 1900', 'No. 4 · A', 'No. 4 · B'])
  })

  it('name the run where nothing else differs', () => {
    expect(shortNames([aSubject(1), aSubject(2)])).toEqual(['#1', '#2'])
    expect(shortNames([])).toEqual([])
  })
})

describe('the drawn comparison', () => {
  const comparison = aComparison()
  const drawing = {
    x_name: 'throttle_pct',
    y_name: 'thrust_gf',
    pinned: 50,
    marks: [
      { x_name: 'throttle_pct', y_name: 'thrust_gf', x: 90, text: 'bends' },
      { x_name: 'thrust_gf', y_name: 'power_w', x: 5, text: 'elsewhere' },
    ] as Schemas['ChartMark'][],
    height: 300,
  }
  const option = comparisonOption(comparison, runMarks([3, 5]), drawing)
  const series = option.series as {
    type: string
    data: { value: number[] }[]
    markLine?: { data: { xAxis: number }[] }
  }[]

  it('draws band, line, points and their ±2u of each', () => {
    expect(series.map((one) => one.type)).toEqual([
      ...['custom', 'line', 'scatter', 'custom'],
      ...['custom', 'line', 'scatter', 'custom'],
    ])
    expect(series[1]?.data.at(-1)?.value).toEqual([100, 1100])
  })

  it('shows the place that was picked, and the marks of this chart alone', () => {
    expect(series[1]?.markLine?.data.map((one) => one.xAxis)).toEqual([50, 90])
  })

  it('draws nothing for who has no such curve', () => {
    const bare = aComparison({ curves: [[aCurve()], []] })
    const one = comparisonOption(bare, runMarks([3, 5]), drawing).series as unknown[]
    expect(one).toHaveLength(4)
  })

  it('tells all of them at one x, the largest first, and who was not measured there', () => {
    const names = ['Drift <b>', 'No. 4']
    const said = pointed(comparison, names, runMarks([3, 5]), 'throttle_pct', 'thrust_gf', 75)
    const lines = said.split('<br>')
    expect(lines[0]).toBe('75 %')
    expect(lines[1]).toContain('No. 4: 825 ± 7 gf')
    expect(lines[2]).toContain('Drift &lt;b&gt;: 750 ± 7 gf')
    const beyond = pointed(comparison, names, runMarks([3, 5]), 'throttle_pct', 'thrust_gf', 101)
    expect(beyond).toContain('not measured there')
  })
})

describe('a band', () => {
  it('breaks where there is no reading', () => {
    const curve = { ...aCurve(), x: [1, 2, 3, 4, 5], y: [1, 2, null, 4, 5], u: [1, 1, null, 1, 1] }
    const bands = bandsOf(curve)
    expect(bands).toHaveLength(2)
    // Up along +2u, back along −2u, never below nothing.
    expect(bands[0]).toEqual([
      [1, 3],
      [2, 4],
      [2, 0],
      [1, 0],
    ])
  })

  it('is read between its readings and nowhere else', () => {
    const curve = aCurve()
    expect(readAt(curve, 30)).toEqual({ y: 210, u: 2.5 })
    expect(readAt(curve, 10)?.y).toBe(20)
    expect(readAt(curve, 5)).toBeNull()
    expect(readAt(curve, 101)).toBeNull()
    expect(readAt({ ...curve, y: [20, null, 1100] }, 30)).toBeNull()
  })
})

describe('names at line ends', () => {
  it('keep their order and a least distance', () => {
    expect(spreadLabels([100, 101, 50], 10)).toEqual([100, 110, 50])
    expect(spreadLabels([5, 5, 5], 1)).toEqual([5, 6, 7])
    expect(spreadLabels([], 1)).toEqual([])
  })
})

it('exports means with their u, and the measured points apart', () => {
  const table = comparisonTable(aComparison(), 'throttle_pct', 'thrust_gf')
  expect(table.columns.at(-1)).toBe('u_thrust_gf')
  const own = table.rows.filter((row) => row[0] === '7 8')
  expect(own.map((row) => row[4])).toEqual(['mean', 'mean', 'mean', ...Array(3).fill('measured')])
  expect(own[1]).toEqual([
    '7 8',
    'Ostrel Drift 2206 1900',
    'A',
    'Wickett 5.1x4.2x3',
    'mean',
    50,
    400,
    4,
  ])
})

describe('what is asked', () => {
  it('is in the address, and only what a comparison knows', () => {
    expect(askedIn({ runs: '1,2', by: 'model', junk: 'x', levels: '' })).toEqual({
      runs: '1,2',
      by: 'model',
    })
    expect(askedIn({}).runs).toBe('')
  })

  it('forgets a baseline that was left out', () => {
    expect(askedIn({ runs: '1,2', baseline: '2' }).baseline).toBe('2')
    expect(askedIn({ runs: '1,2', baseline: '7' }).baseline).toBeUndefined()
  })

  it('names the axes of the charts', () => {
    expect(axesIn(undefined)[1]).toEqual({ x: 'thrust_gf', y: 'efficiency_g_per_w' })
    const own = axesIn('power_w:speed_rpm')
    expect(own).toEqual([{ x: 'speed_rpm', y: 'power_w' }])
    expect(axesText(own)).toBe('power_w:speed_rpm')
    expect(numbersIn('300 x 600;900,')).toEqual([300, 600, 900])
  })
})

describe('what sources claim of a drawn load', () => {
  const claim = (subject: number, said: Record<string, number>) => ({
    subject,
    source: 'web page',
    stated_on: null,
    cells: 4,
    said: Object.entries(said).map(([name, value]) => ({ name, value })),
  })
  const comparison = aComparison({
    claims: [claim(0, { thrust_gf: 1300, power_w: 500 }), claim(1, { thrust_gf: 900 })],
  })

  it('stands where both axes are stated, and nowhere else', () => {
    const quotes = quotedOn(comparison, 'thrust_gf', 'power_w')
    expect(quotes).toEqual([{ x: 1300, y: 500, subject: 0, words: 'claimed, web page' }])
    expect(quotedOn(comparison, 'throttle_pct', 'thrust_gf')).toEqual([])
  })

  it('is not there in a copy that was frozen before', () => {
    const { claims: _, ...old } = aComparison()
    expect(_).toEqual([])
    expect(quotedOn(old as Schemas['Comparison'], 'thrust_gf', 'power_w')).toEqual([])
  })

  it('is drawn hollow, and goes out as claimed, without a u', () => {
    const option = comparisonOption(comparison, runMarks([1, 2]), {
      x_name: 'thrust_gf',
      y_name: 'power_w',
      pinned: null,
      marks: [],
      height: 290,
    })
    const drawn = (option.series as { name: string; data: { value: number[] }[] }[]).find(
      (one) => one.name === 'claimed',
    )
    expect(drawn?.data.map((one) => one.value)).toEqual([[1300, 500]])
    const rows = comparisonTable(comparison, 'thrust_gf', 'power_w').rows
    const said = rows.filter((row) => row[4] === 'claimed, web page')
    expect(said.map((row) => row.slice(5))).toEqual([[1300, 500, null]])
  })
})

describe('the comparison as a still', () => {
  it('holds a column for each level, and no difference that is not resolved', () => {
    const comparison = aComparison()
    const still = comparisonStill(comparison)
    expect(still.heads[0]).toBe('Compared')
    expect(still.heads.length).toBeLessThanOrEqual(6)
    expect(still.rows).toHaveLength(comparison.subjects.length)
    for (const row of still.rows) expect(row).toHaveLength(still.heads.length)
    const rows = comparison.rows.map((row) => ({
      ...row,
      cells: row.cells.map((cell) => ({
        ...cell,
        delta_pct: 3.21,
        outcome: 'unresolved' as const,
      })),
    }))
    const text = comparisonStill({ ...comparison, rows })
      .rows.flat()
      .join(' ')
    expect(text).toContain('not resolved')
    expect(text).not.toContain('3.2 %')
  })

  it('has every figure as a column at full throttle, and dashes for what is absent', () => {
    const base = aComparison()
    const cell = base.rows[0]?.cells[0]
    if (!cell) throw new Error('no cell')
    const row = (name: string, value: number | null) => ({
      condition: 'full',
      at: null,
      name,
      cells: [
        { ...cell, value },
        { ...cell, value: null },
      ],
    })
    const still = comparisonStill({
      ...base,
      condition: 'full',
      figures: ['thrust_gf', 'torque_nm'],
      rows: [row('thrust_gf', 1200), row('torque_nm', null)] as typeof base.rows,
    })
    expect(still.title).toBe('at full throttle')
    expect(still.heads).toEqual(['Compared', 'Thrust, gf'])
    expect(still.rows.map((one) => one[1]?.startsWith('1,200') ?? one[1])).toEqual([true, false])
  })
})
