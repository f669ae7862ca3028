/** Thrust-to-weight against minutes: filled marks were run, hollow ones are predicted. */
import type { CustomSeriesRenderItem, EChartsOption } from 'echarts'
import type { Schemas } from '@/api/client'
import type { Table } from '@/charts/save'
import type { StillTable } from '@/charts/stills'
import { axis, base, PAPER } from '@/charts/theme'
import { figureLine, plainFigure } from '@/figures/format'
import { motorMark } from '@/figures/motorMark'

type Row = Schemas['Matched']

export const inChart = (rows: Row[]): Row[] =>
  rows.filter(
    (row) => !row.barred && row.minutes.value != null && row.thrust_to_weight.value != null,
  )

// What is in the chart has both.
const minutesOf = (row: Row) => row.minutes.value ?? 0
const ratioOf = (row: Row) => row.thrust_to_weight.value ?? 0

/** Whether one is ahead of another in one of the two and not behind in the other. */
const leads = (one: Row, than: Row) =>
  minutesOf(one) >= minutesOf(than) &&
  ratioOf(one) >= ratioOf(than) &&
  (minutesOf(one) > minutesOf(than) || ratioOf(one) > ratioOf(than))

/** A line through a mark each way, from the low to the high end. */
const cross: CustomSeriesRenderItem = (_params, api) => {
  const at = (place: number) => Number(api.value(place))
  const line = (from: [number, number], to: [number, number]) => {
    const [x1, y1] = api.coord(from) as [number, number]
    const [x2, y2] = api.coord(to) as [number, number]
    const style = { stroke: api.visual('color') as string, lineWidth: 1, opacity: 0.55 }
    return { type: 'line' as const, shape: { x1, y1, x2, y2 }, style }
  }
  return {
    type: 'group' as const,
    children: [line([at(2), at(1)], [at(3), at(1)]), line([at(0), at(4)], [at(0), at(5)])],
  }
}

/** The side of a mark on which its label has room. */
export const roomFor =
  (least: number, most: number) =>
  (row: Row): 'left' | 'right' =>
    (row.minutes.value ?? least) > least + 0.55 * (most - least) ? 'left' : 'right'

export function matchOption(rows: Row[], chosen: string | null): EChartsOption {
  const shown = inChart(rows)
  const front = shown.filter((row) => row.on_frontier)
  // Of those that nobody is told to beat, the line goes along who leads.
  const frontier = front
    .filter((row) => !front.some((other) => leads(other, row)))
    .sort((a, b) => minutesOf(a) - minutesOf(b))
  // What all share moves all; of predictions there may be a hundred.
  const crossed = shown.filter((row) => row.apart.minutes != null)
  const minutes = shown.map(minutesOf)
  const sideOf = roomFor(Math.min(...minutes), Math.max(...minutes))
  return {
    ...base(PAPER),
    grid: { left: 56, right: 40, top: 20, bottom: 44 },
    tooltip: {
      trigger: 'item',
      formatter: (one: unknown) => {
        const row = shown[(one as { dataIndex: number }).dataIndex]
        return row
          ? `${row.name}<br>thrust-to-weight ${figureLine(ratioOf(row), row.thrust_to_weight.u, '')}, ` +
              `${figureLine(minutesOf(row), row.minutes.u, 'min')}${row.predicted ? ', predicted' : ''}`
          : ''
      },
    },
    xAxis: { ...axis(PAPER, 'minutes', false), name: 'Minutes (min)', scale: true },
    yAxis: {
      ...axis(PAPER, 'ratio', true),
      name: 'Thrust-to-weight, all motors',
      scale: true,
    },
    series: [
      {
        type: 'scatter',
        symbolSize: 11,
        labelLayout: { hideOverlap: true },
        data: shown.map((row) => {
          const mark = motorMark(row.motor)
          return {
            value: [minutesOf(row), ratioOf(row)],
            symbol: mark.symbol,
            itemStyle: {
              color: row.predicted ? 'transparent' : mark.color,
              borderColor: row.name === chosen ? PAPER.ink : mark.color,
              borderWidth: row.name === chosen ? 3 : 1.6,
            },
            label: {
              show: row.on_frontier || row.name === chosen || row.picked.length > 0,
              formatter: row.short,
              // Beyond the frontier is room; near the right edge there is none.
              position: sideOf(row),
              color: mark.color,
              fontSize: 11,
              backgroundColor: 'rgba(253, 252, 249, 0.85)',
              padding: [1, 3],
            },
          }
        }),
      },
      {
        type: 'custom',
        name: '±2u',
        renderItem: cross,
        silent: true,
        clip: true,
        tooltip: { show: false },
        encode: { x: [2, 3], y: [4, 5] },
        z: 1,
        data: crossed.map((row) => {
          const [x, y] = [minutesOf(row), ratioOf(row)]
          const [dx, dy] = [2 * (row.apart.minutes ?? 0), 2 * (row.apart.thrust_to_weight ?? 0)]
          return {
            value: [x, y, x - dx, x + dx, y - dy, y + dy],
            itemStyle: { color: motorMark(row.motor).color },
          }
        }),
      },
      {
        type: 'line',
        name: 'nobody beats these in both',
        silent: true,
        showSymbol: false,
        lineStyle: { color: PAPER.ink, width: 1, type: [4, 4] },
        data: frontier.map((row) => [minutesOf(row), ratioOf(row)]),
      },
    ],
  }
}

export const matchTable = (rows: Row[]): Table => ({
  columns: ['combination', 'minutes_min', 'u', 'thrust_to_weight', 'u', 'predicted', 'frontier'],
  rows: inChart(rows).map((row) => [
    row.name,
    row.minutes.value ?? null,
    row.minutes.u ?? null,
    row.thrust_to_weight.value ?? null,
    row.thrust_to_weight.u ?? null,
    row.predicted ? 'yes' : 'no',
    row.on_frontier ? 'yes' : 'no',
  ]),
})

/** The candidates for a picture: who carries what, and for how long. */
export function matchStill(craft: string, rows: readonly Row[]): StillTable {
  return {
    title: `What ${craft} should carry`,
    heads: ['Motor', 'Propeller', 'Thrust-to-weight', 'Each in hover, W', 'Minutes'],
    rows: rows
      .slice(0, 14)
      .map((row) => [
        `${row.predicted ? '~' : ''}${row.motor_name}`,
        row.propeller_name,
        plainFigure(row.thrust_to_weight),
        plainFigure(row.power_w),
        plainFigure(row.minutes),
      ]),
    foot: '± is the standard uncertainty. ~ is predicted.',
  }
}
