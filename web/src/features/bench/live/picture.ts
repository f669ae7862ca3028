/** How the live picture of each kind is drawn: one function a shape, by the vocabulary's names. */
import type { EChartsOption, SeriesOption } from 'echarts'
import type { Schemas } from '@/api/client'
import { axis, base, DARK, niceCeil } from '@/charts/theme'
import { count } from '@/figures/format'

export type Picture = Schemas['Picture']
export type Ahead = Schemas['StepAhead']
export type Foreseen = Schemas['ForeseenFigure']

/** How far a band reaches on either side of what was expected, in u. */
export const BAND_U = 2
const LEFT = DARK.left
const RIGHT = DARK.right

type Row = Picture['rows'][number]
type Point = [number, number]

const seriesOf = (rows: readonly Row[]) => [...new Set(rows.map((row) => row.series))]
const points = (rows: readonly Row[], name: string): Point[] =>
  rows.flatMap((row) => {
    const value = row.values[name]
    return value === undefined ? [] : [[row.x, value] as Point]
  })
const upTo = (least: number) => (range: { max: number }) => niceCeil(Math.max(least, range.max))
const headed = (name: string, vertical = true) => axis(DARK, name, vertical)
/** An axis that no quantity of the vocabulary names. */
const titled = (name: string, vertical: boolean) => ({ ...headed('time_s', vertical), name })

/** Lower edge and height of what was expected at each throttle: two lines, one stacked on the other. */
export function band(curve: readonly Ahead[], name: string): { low: Point[]; height: Point[] } {
  const low: Point[] = []
  const height: Point[] = []
  for (const step of [...curve].sort((a, b) => a.throttle_pct - b.throttle_pct)) {
    const figure = step.figures.find((one) => one.name === name)
    if (!figure) continue
    const bottom = Math.max(0, figure.value - BAND_U * figure.u)
    low.push([step.throttle_pct, bottom])
    height.push([step.throttle_pct, figure.value + BAND_U * figure.u - bottom])
  }
  return { low, height }
}

function bandSeries(
  curve: readonly Ahead[],
  name: string,
  yAxisIndex: number,
  color: string,
): SeriesOption[] {
  const { low, height } = band(curve, name)
  if (low.length < 2) return []
  const quiet = { type: 'line' as const, silent: true, showSymbol: false, yAxisIndex, stack: name }
  return [
    { ...quiet, lineStyle: { width: 0 }, data: low },
    { ...quiet, lineStyle: { width: 0 }, areaStyle: { color, opacity: 0.2 }, data: height },
  ]
}

function curveOption(picture: Picture, curve: readonly Ahead[]): EChartsOption {
  const drawn = (name: string, yAxisIndex: number, color: string): SeriesOption[] =>
    seriesOf(picture.rows).map((series) => ({
      type: 'line',
      yAxisIndex,
      symbol: series === 'down' ? 'emptyCircle' : 'circle',
      symbolSize: series === 'plateau' ? 11 : 5,
      lineStyle: { color, width: 1.6, type: series === 'down' ? 'dashed' : 'solid' },
      itemStyle: { color },
      data: points(
        picture.rows.filter((row) => row.series === series),
        name,
      ),
    }))
  const colored = (name: string, color: string) => ({
    ...headed(name),
    min: 0,
    nameTextStyle: { ...headed(name).nameTextStyle, color },
  })
  return {
    xAxis: { ...headed('throttle_pct', false), min: 0, max: 100 },
    yAxis: [
      { ...colored('thrust_gf', LEFT), max: upTo(100) },
      {
        ...colored('current_a', RIGHT),
        max: upTo(5),
        position: 'right',
        splitLine: { show: false },
      },
    ],
    series: [
      ...bandSeries(curve, 'thrust_gf', 0, LEFT),
      ...bandSeries(curve, 'current_a', 1, RIGHT),
      ...drawn('thrust_gf', 0, LEFT),
      ...drawn('current_a', 1, RIGHT),
    ],
  }
}

/** What was expected of one figure, as an area across the picture. */
function area(expected: readonly Foreseen[], name: string) {
  const figure = expected.find((one) => one.name === name)
  if (!figure) return {}
  return {
    markArea: {
      silent: true,
      itemStyle: { color: LEFT, opacity: 0.16 },
      data: [
        [
          { yAxis: figure.value - BAND_U * figure.u },
          { yAxis: figure.value + BAND_U * figure.u },
        ] as [{ yAxis: number }, { yAxis: number }],
      ],
    },
  }
}

function barsOption(picture: Picture, expected: readonly Foreseen[]): EChartsOption {
  return {
    xAxis: { ...titled('Burst', false), type: 'category', data: picture.rows.map((r) => `${r.x}`) },
    yAxis: { ...headed('thrust_gf'), min: 0, max: upTo(100) },
    series: [
      {
        type: 'bar',
        barMaxWidth: 60,
        itemStyle: { color: LEFT },
        label: {
          show: true,
          position: 'top',
          color: DARK.ink,
          formatter: (at) => `${count(Number(at.value))} gf`,
        },
        data: picture.rows.map((row) => row.values.thrust_gf ?? Number.NaN),
        ...area(expected, 'sustained_thrust_gf'),
      },
    ],
  }
}

/** What a hold counts as reached, as a share of the wanted thrust. */
const NEAR_SHARE = 0.012

function targetsOption(picture: Picture): EChartsOption {
  const off = picture.rows.map((row) => (row.values.thrust_gf ?? Number.NaN) - row.x)
  const near = Math.max(...picture.rows.map((row) => NEAR_SHARE * row.x))
  return {
    xAxis: {
      ...titled('Wanted thrust (gf)', false),
      type: 'category',
      data: picture.rows.map((row) => count(row.x)),
    },
    yAxis: {
      ...titled('Thrust minus wanted (gf)', true),
      min: (range) => -niceCeil(Math.max(2 * near, -range.min, range.max)),
      max: (range) => niceCeil(Math.max(2 * near, -range.min, range.max)),
    },
    series: [
      {
        type: 'bar',
        barMaxWidth: 60,
        itemStyle: { color: LEFT },
        label: {
          show: true,
          position: 'top',
          color: DARK.ink,
          formatter: (at) => {
            const off = Math.round(Number(at.value))
            return `${off < 0 ? '−' : off > 0 ? '+' : ''}${Math.abs(off)} gf`
          },
        },
        data: off,
        markArea: {
          silent: true,
          itemStyle: { color: RIGHT, opacity: 0.16 },
          data: [[{ yAxis: -near }, { yAxis: near }]],
        },
      },
    ],
  }
}

function linesOption(
  picture: Picture,
  x: ReturnType<typeof headed>,
  y: string,
  rest: object = {},
): EChartsOption {
  const all = seriesOf(picture.rows)
  return {
    xAxis: x,
    yAxis: { ...headed(y), ...rest },
    series: all.map((series, i) => ({
      type: 'line' as const,
      name: series,
      showSymbol: y === 'torque_nm',
      symbolSize: 6,
      lineStyle: { color: LEFT, width: i === all.length - 1 ? 2.4 : 1.2 },
      itemStyle: { color: LEFT, opacity: i === all.length - 1 ? 1 : 0.5 },
      data: points(
        picture.rows.filter((row) => row.series === series),
        y,
      ),
    })),
  }
}

function convergingOption(picture: Picture, expected: readonly Foreseen[]): EChartsOption {
  const drawn = linesOption(picture, headed('time_s', false), 'kv_raw_rpm_per_v', { scale: true })
  const [first] = drawn.series as SeriesOption[]
  return { ...drawn, series: [{ ...first, ...area(expected, 'kv_raw_rpm_per_v') } as SeriesOption] }
}

function heatingOption(picture: Picture, ceiling_c: number | null): EChartsOption {
  const settles = picture.rows.find((row) => row.series === 'settles at')
  const marks = [
    ...(settles ? [{ yAxis: settles.values.motor_temp_c, name: 'settles' }] : []),
    ...(ceiling_c === null ? [] : [{ yAxis: ceiling_c, name: 'limit' }]),
  ]
  const top = Math.max(40, ...marks.map((mark) => mark.yAxis ?? 0))
  return {
    xAxis: { ...headed('time_s', false), min: 0 },
    yAxis: { ...headed('motor_temp_c'), max: upTo(top) },
    series: [
      {
        type: 'line',
        showSymbol: false,
        lineStyle: { color: LEFT, width: 2.4 },
        data: points(
          picture.rows.filter((row) => row.series === 'case'),
          'motor_temp_c',
        ),
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: DARK.over, type: 'dashed' },
          label: { color: DARK.ink, formatter: '{b}', position: 'insideEndTop' },
          data: marks,
        },
      },
    ],
  }
}

/** The picture as a chart; null where nothing is drawn. */
export function pictureOption(
  picture: Picture,
  curve: readonly Ahead[],
  expected: readonly Foreseen[],
  ceiling_c: number | null = null,
): EChartsOption | null {
  const drawn = (): EChartsOption | null => {
    switch (picture.shape) {
      case 'curve':
        return curveOption(picture, curve)
      case 'bars':
        return barsOption(picture, expected)
      case 'targets':
        return targetsOption(picture)
      case 'converging':
        return convergingOption(picture, expected)
      case 'torque':
        return linesOption(picture, headed('speed_rpm', false), 'torque_nm', { min: 0 })
      case 'cycles':
        return linesOption(picture, headed('time_s', false), 'speed_rpm', { min: 0 })
      case 'heating':
        return heatingOption(picture, ceiling_c)
      default:
        return null
    }
  }
  const option = drawn()
  if (!option) return null
  return {
    ...base(DARK),
    grid: { left: 70, right: 84, top: 16, bottom: 42 },
    tooltip: { show: false },
    ...option,
  }
}

const LABELS: Record<string, string> = {
  curve: `Points so far over throttle; the band is what was expected, ± ${BAND_U} u`,
  bars: `Thrust of each burst; the band is what was expected, ± ${BAND_U} u`,
  targets: 'How far each held thrust is from the wanted one',
  converging: `Raw kV over time; the band is what was expected, ± ${BAND_U} u`,
  torque: 'Torque over speed of each spin-up',
  cycles: 'Speed after each jump up, laid over each other',
  heating: 'Case temperature over time, where it would settle, and the limit',
}

/** What the picture shows, for who cannot see it and as its caption. */
export const pictureLabel = (picture: Picture): string => LABELS[picture.shape] ?? ''
