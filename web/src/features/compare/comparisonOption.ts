/** Compared runs as curves: measured points with ±2u, an end where a curve was not measured. */
import type { EChartsOption, CustomSeriesRenderItem } from 'echarts'
import type { Schemas } from '@/api/client'
import { axis, base, PAPER } from '@/charts/theme'
import type { Mark } from '@/figures/motorMark'

type Comparison = Schemas['Comparison']
type Curve = Schemas['DrawnCurve']

export function curveOf(
  comparison: Comparison,
  run: number,
  x_name: string,
  y_name: string,
): Curve | undefined {
  return comparison.curves[run]?.find((c) => c.x_name === x_name && c.y_name === y_name)
}

/** Short names that tell the compared runs apart, for line ends. */
export function shortNames(runs: Schemas['Run'][]): string[] {
  const one = (values: string[]) => new Set(values).size === 1
  const motors = runs.map((run) => run.motor_name)
  const props = runs.map((run) => run.propeller_name)
  const samples = runs.map((run) => `${run.motor_name}/${run.sample_mark}`)
  return runs.map((run) => {
    const parts = [`#${run.id}`]
    if (!one(motors)) parts.push(run.motor_name.split(' ').slice(1).join(' '))
    if (one(motors) && !one(samples)) parts.push(`sample ${run.sample_mark}`)
    if (!one(props)) parts.push(run.propeller_name.split(' ').slice(1).join(' '))
    return parts.join(' ')
  })
}

const errorBar: CustomSeriesRenderItem = (_params, api) => {
  const [x, low] = api.coord([api.value(0), api.value(1)]) as [number, number]
  const [, high] = api.coord([api.value(0), api.value(2)]) as [number, number]
  const stroke = api.visual('color') as string
  const line = (x1: number, y1: number, x2: number, y2: number) => ({
    type: 'line' as const,
    shape: { x1, y1, x2, y2 },
    style: { stroke, lineWidth: 1.2 },
  })
  return {
    type: 'group' as const,
    children: [line(x, low, x, high), line(x - 3, low, x + 3, low), line(x - 3, high, x + 3, high)],
  }
}

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

export function comparisonOption(
  comparison: Comparison,
  marks: Mark[],
  x_name: string,
  y_name: string,
  pinned: number | null,
  height: number,
): EChartsOption {
  const names = shortNames(comparison.runs)
  const curves = comparison.runs.map((_, i) => curveOf(comparison, i, x_name, y_name))
  const top = Math.max(0, ...curves.flatMap((curve) => curve?.points_y ?? []))
  const ends = curves.map((curve) => curve?.points_y.at(-1) ?? 0)
  const perPixel = (top * 1.08) / Math.max(60, height - 60)
  const placed = spreadLabels(ends, 14 * perPixel)
  const series = curves.flatMap((curve, i) => {
    const mark = marks[i]
    if (!curve || !mark) return []
    const color = mark.color
    return [
      {
        type: 'line' as const,
        name: names[i],
        showSymbol: false,
        data: curve.x.map((x, k) => [x, curve.y[k] as number]),
        lineStyle: { color, width: 1.8, type: mark.dash },
        itemStyle: { color },
        markLine:
          i === 0 && pinned !== null
            ? {
                silent: true,
                symbol: 'none',
                label: { show: false },
                lineStyle: { color: PAPER.ink, type: 'solid' as const },
                data: [{ xAxis: pinned }],
              }
            : undefined,
      },
      {
        type: 'scatter' as const,
        name: `${names[i]} measured`,
        symbol: mark.symbol,
        symbolSize: 7,
        itemStyle: { color },
        tooltip: { show: false },
        data: curve.points_x.map((x, k) => ({
          value: [x, curve.points_y[k] as number],
          // The last point bears the name of its curve.
          label: {
            show: k === curve.points_x.length - 1,
            formatter: names[i],
            position: 'right' as const,
            offset: [2, -((placed[i] as number) - (ends[i] as number)) / perPixel],
            color,
            opacity: 1,
            fontSize: 11,
          },
        })),
      },
      {
        type: 'custom' as const,
        name: `${names[i]} ±2u`,
        renderItem: errorBar,
        itemStyle: { color },
        tooltip: { show: false },
        silent: true,
        encode: { x: 0, y: [1, 2] },
        data: curve.points_x.map((x, k) => {
          const y = curve.points_y[k] as number
          const u = curve.points_u[k] as number
          return [x, y - 2 * u, y + 2 * u]
        }),
      },
    ]
  })
  return {
    ...base(PAPER),
    grid: { left: 58, right: 156, top: 16, bottom: 44 },
    xAxis: { ...axis(PAPER, x_name, false), min: 0 },
    yAxis: { ...axis(PAPER, y_name, true), min: 0 },
    series,
  }
}

/** The numbers of a chart as a table: measured points with their u. */
export function comparisonTable(comparison: Comparison, x_name: string, y_name: string) {
  return {
    columns: ['run', 'motor', 'propeller', x_name, y_name, `u_${y_name}`],
    rows: comparison.runs.flatMap((run, i) => {
      const curve = curveOf(comparison, i, x_name, y_name)
      return (curve?.points_x ?? []).map((x, k) => [
        run.id,
        `${run.motor_name} ${run.sample_mark}`,
        run.propeller_name,
        x,
        curve?.points_y[k] ?? null,
        curve?.points_u[k] ?? null,
      ])
    }),
  }
}
