/** Thrust-to-weight against minutes: filled marks were run, hollow ones are predicted. */
import type { EChartsOption } from 'echarts'
import type { Schemas } from '@/api/client'
import type { Table } from '@/charts/save'
import type { StillTable } from '@/charts/stills'
import { axis, base, PAPER } from '@/charts/theme'
import { figureText } from '@/figures/format'
import { motorMark } from '@/figures/motorMark'

type Row = Schemas['Matched']

export const inChart = (rows: Row[]): Row[] =>
  rows.filter(
    (row) => !row.barred && row.minutes.value != null && row.thrust_to_weight.value != null,
  )

/** Without the makers, so that a label stays short. */
const rest = (text: string) => text.split(' ').slice(1).join(' ') || text
const label = (row: Row) => `${rest(row.motor_name)}, ${rest(row.propeller_name)}`

/** The side of a mark on which its label has room. */
export const roomFor =
  (least: number, most: number) =>
  (row: Row): 'left' | 'right' =>
    (row.minutes.value ?? least) > least + 0.55 * (most - least) ? 'left' : 'right'

export function matchOption(rows: Row[], chosen: string | null): EChartsOption {
  const shown = inChart(rows)
  const frontier = shown
    .filter((row) => row.on_frontier)
    .sort((a, b) => (a.minutes.value ?? 0) - (b.minutes.value ?? 0))
  const minutes = shown.map((row) => row.minutes.value as number)
  const sideOf = roomFor(Math.min(...minutes), Math.max(...minutes))
  return {
    ...base(PAPER),
    grid: { left: 56, right: 40, top: 20, bottom: 44 },
    tooltip: {
      trigger: 'item',
      formatter: (one: unknown) => {
        const row = shown[(one as { dataIndex: number }).dataIndex]
        return row
          ? `${row.name}<br>thrust-to-weight ${figureText(row.thrust_to_weight.value ?? 0, row.thrust_to_weight.u).value}, ` +
              `${figureText(row.minutes.value ?? 0, row.minutes.u).value} min${row.predicted ? ', predicted' : ''}`
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
            value: [row.minutes.value as number, row.thrust_to_weight.value as number],
            symbol: mark.symbol,
            itemStyle: {
              color: row.predicted ? 'transparent' : mark.color,
              borderColor: row.name === chosen ? PAPER.ink : mark.color,
              borderWidth: row.name === chosen ? 3 : 1.6,
            },
            label: {
              show: row.on_frontier || row.name === chosen || row.picked.length > 0,
              formatter: label(row),
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
        type: 'line',
        name: 'nobody beats these in both',
        silent: true,
        showSymbol: false,
        lineStyle: { color: PAPER.ink, width: 1, type: [4, 4] },
        data: frontier.map((row) => [
          row.minutes.value as number,
          row.thrust_to_weight.value as number,
        ]),
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
  const said = (figure: { value: number | null; u: number | null }) => {
    if (figure.value === null) return '—'
    const text = figureText(figure.value, figure.u)
    return text.u ? `${text.value} ± ${text.u}` : text.value
  }
  return {
    title: `What ${craft} should carry`,
    heads: ['Motor', 'Propeller', 'Thrust-to-weight', 'Each in hover, W', 'Minutes'],
    rows: rows
      .slice(0, 14)
      .map((row) => [
        `${row.predicted ? '~' : ''}${row.motor_name}`,
        row.propeller_name,
        said(row.thrust_to_weight),
        said(row.power_w),
        said(row.minutes),
      ]),
    foot: '± is the standard uncertainty. ~ is predicted.',
  }
}
