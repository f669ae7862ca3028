/** One look for every chart: paper by day, dark on the bench. */
import type { EChartsOption } from 'echarts'
import { headOf } from '@/words/words'

const FONT = "'B612', system-ui, sans-serif"

export interface ChartColors {
  ink: string
  soft: string
  line: string
  sheet: string
  /** The curves of the left and the right axis. */
  left: string
  right: string
  /** What was left out, what is over a limit. */
  over: string
}

export const PAPER: ChartColors = {
  ink: '#1c2a2f',
  soft: '#4d5c62',
  line: '#e1dbcf',
  sheet: '#fdfcf9',
  left: '#a6501f',
  right: '#1f6f78',
  over: '#b3211d',
}
export const DARK: ChartColors = {
  ink: '#e9e4d9',
  soft: '#a3b1b5',
  line: '#2b3a40',
  sheet: '#182327',
  left: '#f0b98a',
  right: '#7fc7bd',
  over: '#ff5b52',
}

export function base(colors: ChartColors): EChartsOption {
  return {
    animation: false,
    textStyle: { fontFamily: FONT, color: colors.ink },
    grid: { left: 58, right: 120, top: 16, bottom: 44 },
    tooltip: {
      trigger: 'axis',
      backgroundColor: colors.sheet,
      borderColor: colors.soft,
      textStyle: { color: colors.ink, fontFamily: FONT, fontSize: 12 },
      axisPointer: { type: 'line', lineStyle: { color: colors.soft } },
    },
  }
}

/** A value axis that names its quantity and unit. */
export function axis(colors: ChartColors, name: string, vertical: boolean) {
  return {
    type: 'value' as const,
    name: headOf(name),
    nameLocation: 'middle' as const,
    nameGap: vertical ? 44 : 27,
    nameTextStyle: { color: colors.soft, fontFamily: FONT, fontSize: 12 },
    axisLabel: { color: colors.soft, fontFamily: FONT, fontSize: 11 },
    axisLine: { show: true, lineStyle: { color: colors.soft } },
    splitLine: { lineStyle: { color: colors.line } },
    scale: false,
  }
}

/** The next 1, 2 or 5 × a power of ten (with a quarter step between), for an axis' end. */
export function niceCeil(value: number): number {
  if (!(value > 0)) return 1
  const power = 10 ** Math.floor(Math.log10(value))
  const step = [1, 1.5, 2, 3, 4, 5, 6, 8, 10].find((part) => part * power >= value * 0.9999) ?? 10
  return step * power
}
