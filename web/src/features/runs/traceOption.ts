/** The trace of a run as a chart: chosen channels over time, with the averaged parts marked. */
import type { EChartsOption } from 'echarts'
import type { Schemas } from '@/api/client'
import { axis, base, PAPER } from '@/charts/theme'
import { labelOf } from '@/words/words'

const COLORS = [PAPER.left, PAPER.right]

/** The first and last tick are the ends of what is seen, seldom round numbers: those go without. */
function timeAxis(beginsRound: boolean) {
  const plain = axis(PAPER, 'time_s', false)
  return {
    ...plain,
    axisLabel: { ...plain.axisLabel, showMinLabel: beginsRound, showMaxLabel: false },
  }
}

/** Zero at the bottom, so that both axes share it; quantities that live far from 0 do not. */
export function axisFloor(range: { min: number; max: number }): number | undefined {
  if (range.min > 0.3 * range.max) return Math.floor(range.min)
  return range.min < -0.05 * range.max ? undefined : 0
}

export interface Span {
  from: number
  to: number
  settled: boolean
}

/** The averaged parts, overlapping ones of one kind joined, so that no shade lies on a shade. */
export function averaged(points: Schemas['Point'][]): Span[] {
  const spans: Span[] = []
  const sorted = points
    .map((point) => ({ from: point.used_from_s, to: point.end_s, settled: point.settled }))
    .sort((a, b) => a.from - b.from)
  for (const span of sorted) {
    const last = spans.at(-1)
    if (last && last.settled === span.settled && span.from < last.to)
      last.to = Math.max(last.to, span.to)
    else spans.push({ ...span })
  }
  return spans
}

export function traceOption(
  trace: Schemas['Trace'],
  names: string[],
  result: Schemas['Result'] | null,
  part: [number, number] = [0, 100],
): EChartsOption {
  const used = averaged(result?.points ?? []).map(
    (span) =>
      [
        {
          xAxis: span.from,
          itemStyle: { color: span.settled ? 'rgba(31,111,104,0.13)' : 'rgba(216,167,46,0.20)' },
        },
        { xAxis: span.to },
      ] as [{ xAxis: number; itemStyle: { color: string } }, { xAxis: number }],
  )
  const outliers = result?.outliers ?? []
  const scale = base(PAPER)
  return {
    ...scale,
    grid: { left: 64, right: names.length > 1 ? 66 : 24, top: 16, bottom: 44 },
    xAxis: {
      ...timeAxis(part[0] === 0 && Number.isInteger(trace.begin_s)),
      max: trace.end_s,
      min: trace.begin_s,
    },
    // Only with a key held: the wheel alone moves the page.
    dataZoom: [
      {
        type: 'inside',
        filterMode: 'none',
        zoomOnMouseWheel: 'ctrl',
        moveOnMouseMove: true,
        throttle: 16,
        start: part[0],
        end: part[1],
      },
    ],
    yAxis: names.map((name, index) => ({
      ...axis(PAPER, name, true),
      position: index ? ('right' as const) : ('left' as const),
      min: axisFloor,
      splitLine: { show: index === 0, lineStyle: { color: PAPER.line } },
      nameTextStyle: { color: COLORS[index], fontSize: 12 },
    })),
    series: [
      ...names.map((name, index) => ({
        type: 'line' as const,
        name: labelOf(name),
        yAxisIndex: index,
        showSymbol: false,
        lineStyle: { color: COLORS[index], width: 1.2 },
        itemStyle: { color: COLORS[index] },
        data: trace.time_s.map((time, i) => [time, trace.channels[name]?.[i] ?? null]),
        markArea: index === 0 ? { silent: true, data: used } : undefined,
      })),
      ...names.map((name, index) => ({
        type: 'scatter' as const,
        name: `${labelOf(name)}, left out`,
        yAxisIndex: index,
        symbol: 'diamond',
        symbolSize: 9,
        itemStyle: { color: 'transparent', borderColor: PAPER.over, borderWidth: 1.6 },
        data: outliers.filter((o) => o.channel === name).map((o) => [o.time_s, o.value]),
      })),
    ],
  }
}
