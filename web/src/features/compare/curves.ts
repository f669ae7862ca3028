/** Compared subjects as curves: the mean, a band of ±2u, measured points; ends where they end. */
import type { CustomSeriesRenderItem, EChartsOption, SeriesOption } from 'echarts'
import type { Schemas } from '@/api/client'
import { axis, base, PAPER } from '@/charts/theme'
import { figureText } from '@/figures/format'
import type { Mark } from '@/figures/motorMark'
import { unitOf } from '@/words/words'

type Comparison = Schemas['Comparison']
type Curve = Schemas['DrawnCurve']
type Subject = Schemas['ComparedSubject']
export type ChartMark = Schemas['ChartMark']

export function curveOf(
  comparison: Comparison,
  subject: number,
  x_name: string,
  y_name: string,
): Curve | undefined {
  return comparison.curves[subject]?.find((c) => c.x_name === x_name && c.y_name === y_name)
}

/** Short names that tell the compared subjects apart, for line ends and heads of columns. */
export function shortNames(subjects: readonly Subject[]): string[] {
  const differ = (value: (one: Subject) => string) => new Set(subjects.map(value)).size > 1
  const motors = differ((one) => one.motor_name)
  const samplesOf = (motor: string) =>
    new Set(subjects.filter((one) => one.motor_name === motor).map((one) => one.samples.join()))
      .size
  const propellers = differ((one) => one.propeller_name)
  const supplies = differ((one) => one.on)
  const setups = differ((one) => one.setup)
  const names = subjects.map((one) => {
    const parts: string[] = []
    if (motors) parts.push(one.motor_short)
    if (samplesOf(one.motor_name) > 1 && one.samples.length)
      parts.push(`${motors ? '' : 'sample '}${one.samples.join(', ')}`)
    if (propellers) parts.push(one.propeller_short)
    if (supplies && one.on) parts.push(one.on)
    if (setups && one.setup) parts.push(one.setup)
    return parts.join(' · ')
  })
  // What nothing else tells apart, the run does.
  return names.map((name, at) =>
    name && names.indexOf(name) === names.lastIndexOf(name)
      ? name
      : `${name} #${subjects[at]?.key}`.trim(),
  )
}

const errorBar: CustomSeriesRenderItem = (_params, api) => {
  const [x, low] = api.coord([api.value(0), api.value(1)]) as [number, number]
  const [, high] = api.coord([api.value(0), api.value(2)]) as [number, number]
  const stroke = api.visual('color') as string
  return {
    type: 'line' as const,
    shape: { x1: x, y1: low, x2: x, y2: high },
    style: { stroke, lineWidth: 1 },
  }
}

/** Unbroken stretches of a curve's band, as corners: up along +2u, back along −2u. */
export function bandsOf(curve: Curve): [number, number][][] {
  const bands: [number, number][][] = []
  let upper: [number, number][] = []
  let lower: [number, number][] = []
  const close = () => {
    if (upper.length > 1) bands.push([...upper, ...lower.toReversed()])
    upper = []
    lower = []
  }
  curve.x.forEach((x, at) => {
    const y = curve.y[at]
    const u = curve.u[at]
    if (y == null || u == null) return close()
    upper.push([x, y + 2 * u])
    lower.push([x, Math.max(0, y - 2 * u)])
  })
  close()
  return bands
}

const bandOf =
  (corners: [number, number][]): CustomSeriesRenderItem =>
  (_params, api) => ({
    type: 'polygon' as const,
    shape: { points: corners.map((corner) => api.coord(corner) as [number, number]) },
    style: { fill: api.visual('color') as string, opacity: 0.13 },
    silent: true,
  })

/**
 * Names at line ends moved apart so that none covers another, in units of the axis. The chart's own
 * layout does not move labels that hang on points.
 */
export function spreadLabels(ends: number[], least: number): number[] {
  const order = ends.map((_, i) => i).sort((a, b) => (ends[a] as number) - (ends[b] as number))
  const placed = [...ends]
  for (let k = 1; k < order.length; k++) {
    const below = placed[order[k - 1] as number] as number
    const here = order[k] as number
    placed[here] = Math.max(placed[here] as number, below + least)
  }
  return placed
}

/** y and u of a curve at x, on the straight line between its readings; null outside. */
export function readAt(curve: Curve, x: number): { y: number; u: number } | null {
  const right = curve.x.findIndex((at) => at >= x)
  if (right < 0 || x < (curve.x[0] as number)) return null
  const left = Math.max(0, right - 1)
  const [a, b] = [curve.x[left] as number, curve.x[right] as number]
  const share = b > a ? (x - a) / (b - a) : 0
  const between = (values: (number | null)[]) => {
    const [one, other] = [values[left], values[right]]
    return one == null || other == null ? null : one + share * (other - one)
  }
  const y = between(curve.y)
  return y === null ? null : { y, u: between(curve.u) ?? 0 }
}

const escaped = (text: string) =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;')

/** All subjects at one x, the largest first, as a small table for the pointer. */
export function pointed(
  comparison: Comparison,
  names: string[],
  marks: Mark[],
  x_name: string,
  y_name: string,
  x: number,
): string {
  const rows = comparison.curves
    .map((_, at) => {
      const curve = curveOf(comparison, at, x_name, y_name)
      return { at, read: curve ? readAt(curve, x) : null }
    })
    .sort((a, b) => (b.read?.y ?? -1) - (a.read?.y ?? -1))
    .map(({ at, read }) => {
      const text = read ? figureText(read.y, read.u) : null
      const said = text
        ? `${text.value}${text.u ? ` ± ${text.u}` : ''} ${unitOf(y_name)}`
        : 'not measured there'
      const dot = `<span style="color:${marks[at]?.color ?? PAPER.ink}">●</span>`
      return `${dot} ${escaped(names[at] ?? '')}: ${said}`
    })
  return [`${figureText(x, null).value} ${unitOf(x_name)}`, ...rows].join('<br>')
}

interface Quoted {
  x: number
  y: number
  subject: number
  words: string
}

/** What sources claim of the drawn loads, as far as they state both axes. Kept copies of old have none. */
export function quotedOn(comparison: Comparison, x_name: string, y_name: string): Quoted[] {
  const claims = (comparison.claims as Comparison['claims'] | undefined) ?? []
  return claims.flatMap((one) => {
    const said = new Map(one.said.map(({ name, value }) => [name, value]))
    const [x, y] = [said.get(x_name), said.get(y_name)]
    if (x === undefined || y === undefined) return []
    return [{ x, y, subject: one.subject, words: `claimed, ${one.source}` }]
  })
}

export interface Drawing {
  x_name: string
  y_name: string
  /** A vertical line where a comparison is read. */
  pinned: number | null
  marks: ChartMark[]
  height: number
  /** For the names at the line ends [px]. */
  room?: number
}

export function comparisonOption(
  comparison: Comparison,
  marks: Mark[],
  { x_name, y_name, pinned, marks: noted, height, room = 156 }: Drawing,
): EChartsOption {
  const drawn = comparison.subjects.filter((one) => one.drawn)
  const names = shortNames(drawn)
  const curves = drawn.map((_, i) => curveOf(comparison, i, x_name, y_name))
  const there = curves.filter((curve) => curve?.x.length)
  const top = Math.max(0, ...there.flatMap((curve) => curve?.points.map((p) => p[1] ?? 0) ?? []))
  const lastOf = (curve?: Curve) => curve?.y.findLast((y) => y !== null) ?? 0
  const perPixel = (top * 1.08) / Math.max(60, height - 60)
  const ends = curves.map(lastOf)
  const placed = spreadLabels(ends, 14 * perPixel)
  const series: SeriesOption[] = curves.flatMap((curve, i): SeriesOption[] => {
    const mark = marks[i]
    if (!curve?.x.length || !mark) return []
    const color = mark.color
    const lastAt = curve.y.findLastIndex((y) => y !== null)
    return [
      ...bandsOf(curve).map((corners) => ({
        type: 'custom' as const,
        name: `${names[i]} band`,
        renderItem: bandOf(corners),
        itemStyle: { color },
        tooltip: { show: false },
        silent: true,
        data: [[corners[0]?.[0] ?? 0, corners[0]?.[1] ?? 0]],
      })),
      {
        type: 'line' as const,
        name: names[i],
        showSymbol: true,
        symbol: 'none',
        data: curve.x.map((x, k) => ({
          value: [x, curve.y[k] as number],
          symbol: k === lastAt ? 'circle' : 'none',
          symbolSize: 1,
          // The last reading bears the name of its curve.
          label: {
            show: k === lastAt,
            formatter: names[i],
            position: 'right' as const,
            offset: [4, -((placed[i] as number) - (ends[i] as number)) / perPixel],
            color,
            fontSize: 11,
            width: room - 24,
            overflow: 'truncate' as const,
          },
        })),
        lineStyle: { color, width: 1.8, type: mark.dash },
        itemStyle: { color },
      },
      {
        type: 'scatter' as const,
        name: `${names[i]} measured`,
        symbol: mark.symbol,
        symbolSize: 6,
        itemStyle: { color },
        tooltip: { show: false },
        data: curve.points.map(([x, y]) => [x as number, y as number]),
      },
      {
        type: 'custom' as const,
        name: `${names[i]} ±2u`,
        renderItem: errorBar,
        itemStyle: { color },
        tooltip: { show: false },
        silent: true,
        encode: { x: 0, y: [1, 2] },
        data: curve.points.map(([x, y, u]) => [
          x as number,
          (y as number) - 2 * (u as number),
          (y as number) + 2 * (u as number),
        ]),
      },
    ]
  })
  const quotes = quotedOn(comparison, x_name, y_name)
  if (quotes.length)
    series.push({
      type: 'scatter' as const,
      name: 'claimed',
      symbol: 'diamond',
      symbolSize: 12,
      tooltip: { show: false },
      silent: true,
      labelLayout: { hideOverlap: true },
      data: quotes.map((one) => ({
        value: [one.x, one.y],
        itemStyle: {
          color: PAPER.sheet,
          borderColor: marks[one.subject]?.color ?? PAPER.ink,
          borderType: 'dashed' as const,
          borderWidth: 1.4,
        },
        label: {
          show: true,
          formatter: one.words,
          // Names stand right of the curves' ends, and curves come from the left.
          position: 'bottom' as const,
          color: PAPER.soft,
          fontSize: 11,
          fontStyle: 'italic' as const,
          backgroundColor: PAPER.sheet,
          padding: [1, 3],
        },
      })),
    })
  const placedMarks = noted.filter((one) => one.x_name === x_name && one.y_name === y_name)
  const lines = [
    ...(pinned === null
      ? []
      : [
          {
            xAxis: pinned,
            lineStyle: { color: PAPER.ink, type: 'solid' as const },
            label: { show: false },
          },
        ]),
    ...placedMarks.map((one) => ({
      xAxis: one.x,
      lineStyle: { color: PAPER.soft, type: 'dashed' as const },
      label: {
        show: true,
        formatter: one.text,
        position: 'insideEndTop' as const,
        color: PAPER.ink,
        fontSize: 11,
      },
    })),
  ]
  const first = series.find((one) => one.type === 'line')
  if (first && lines.length) first.markLine = { silent: true, symbol: 'none', data: lines }
  const plain = base(PAPER)
  return {
    ...plain,
    tooltip: {
      ...(plain.tooltip as object),
      trigger: 'axis',
      formatter: (params: unknown) => {
        const [one] = params as { axisValue?: number }[]
        return typeof one?.axisValue === 'number'
          ? pointed(comparison, names, marks, x_name, y_name, one.axisValue)
          : ''
      },
    },
    grid: { left: 58, right: room, top: 16, bottom: 44 },
    xAxis: { ...axis(PAPER, x_name, false), min: 0 },
    yAxis: { ...axis(PAPER, y_name, true), min: 0 },
    series,
  }
}

/** The numbers of a chart as a table: the means with their u, then the measured points. */
export function comparisonTable(comparison: Comparison, x_name: string, y_name: string) {
  return {
    columns: ['runs', 'motor', 'samples', 'propeller', 'is', x_name, y_name, `u_${y_name}`],
    rows: comparison.subjects.flatMap((one, i) => {
      const curve = curveOf(comparison, i, x_name, y_name)
      const who = [
        one.runs.join(' '),
        one.motor_name,
        one.samples.join(' '),
        one.propeller_name,
      ] as (string | number | null)[]
      return [
        ...(curve?.x ?? []).map((x, k) => [
          ...who,
          'mean',
          x,
          curve?.y[k] ?? null,
          curve?.u[k] ?? null,
        ]),
        ...(curve?.points ?? []).map(([x, y, u]) => [
          ...who,
          'measured',
          x ?? null,
          y ?? null,
          u ?? null,
        ]),
        // Quoted, and without a u: nobody measured it.
        ...quotedOn(comparison, x_name, y_name)
          .filter((quote) => quote.subject === i)
          .map((quote) => [...who, quote.words, quote.x, quote.y, null]),
      ]
    }),
  }
}
