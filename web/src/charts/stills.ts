/** Stills of 16:9 for footage and pages: readable at half their size. */
import type { EChartsOption } from 'echarts'
import { init } from 'echarts/core'
import './engine'
import { figureText } from '@/figures/format'
import { pngOf, standaloneSvg } from './save'
import { type ChartColors, PAPER } from './theme'

export const STILL = { width: 1920, height: 1080 }
const FONT = "'B612', system-ui, sans-serif"
/** A chart is drawn small and enlarged, so that its words are large. */
const SHRUNK = 2.4
const HEADING_PX = 110

/** The chart as a still with its heading. */
export async function chartStill(
  option: EChartsOption,
  title: string,
  colors: ChartColors = PAPER,
): Promise<Blob> {
  const holder = document.createElement('div')
  const width = STILL.width / SHRUNK
  const height = (STILL.height - HEADING_PX) / SHRUNK
  holder.style.cssText = `position:fixed;left:-9999px;top:0;width:${width}px;height:${height}px`
  document.body.append(holder)
  const chart = init(holder, null, { renderer: 'svg', width, height })
  try {
    chart.setOption({ ...option, animation: false })
    const svg = holder.querySelector('svg')
    if (!svg) throw new Error('The chart could not be drawn.')
    svg.setAttribute('viewBox', `0 0 ${width} ${height}`)
    svg.setAttribute('width', String(STILL.width))
    svg.setAttribute('height', String(STILL.height - HEADING_PX))
    const text = standaloneSvg(svg, colors.sheet)
    const picture = await pngOf(text, STILL.width / 2, (STILL.height - HEADING_PX) / 2)
    const image = await createImageBitmap(picture)
    return await painted((context) => {
      heading(context, title, colors)
      context.drawImage(image, 0, HEADING_PX, STILL.width, STILL.height - HEADING_PX)
    }, colors)
  } finally {
    chart.dispose()
    holder.remove()
  }
}

export interface StillTable {
  title: string
  heads: string[]
  rows: string[][]
  /** What stands below in small letters. */
  foot?: string
}

/** How a table is set on a still: letters as large as its rows and columns leave them. */
export function tableLayout(table: StillTable, shown = table.rows.length) {
  const rows = Math.max(1, table.rows.length)
  const room = STILL.height - HEADING_PX - 130
  const step = Math.min(92, room / (rows + 1))
  const letters = Math.round(Math.min(46, step * 0.56))
  const longest = table.heads.map((head, at) =>
    Math.max(head.length * 0.8, ...table.rows.map((row) => (row[at] ?? '').length)),
  )
  const total = longest.reduce((sum, one) => sum + one + 2, 0) || 1
  let x = 60
  const columns = longest.map((one) => {
    const width = ((one + 2) / total) * (STILL.width - 120)
    const column = { x, width }
    x += width
    return column
  })
  return { step, letters, columns, shown: Math.min(shown, table.rows.length) }
}

/** The table as a still; only the first `shown` rows are filled in, for row after row in footage. */
export async function tableStill(
  table: StillTable,
  shown = table.rows.length,
  colors: ChartColors = PAPER,
): Promise<Blob> {
  const look = tableLayout(table, shown)
  return painted((context) => {
    heading(context, table.title, colors)
    const y0 = HEADING_PX + 40
    const write = (text: string, at: number, y: number, strong: boolean) => {
      const column = look.columns[at]
      if (!column) return
      context.font = `${strong ? 700 : 400} ${look.letters}px ${FONT}`
      context.fillStyle = strong ? colors.soft : colors.ink
      context.fillText(text, column.x, y, column.width - 14)
    }
    table.heads.forEach((head, at) => write(head, at, y0 + look.step * 0.6, true))
    context.strokeStyle = colors.soft
    context.lineWidth = 3
    line(context, y0 + look.step * 0.95)
    table.rows.slice(0, look.shown).forEach((row, k) => {
      const y = y0 + look.step * (k + 1)
      row.forEach((cell, at) => write(cell, at, y + look.step * 0.66, false))
      context.strokeStyle = colors.line
      context.lineWidth = 2
      line(context, y + look.step * 0.98)
    })
    if (table.foot) {
      context.font = `400 24px ${FONT}`
      context.fillStyle = colors.soft
      context.fillText(table.foot, 60, STILL.height - 30, STILL.width - 120)
    }
  }, colors)
}

export interface StillFigure {
  label: string
  value: string
  /** Empty where there is none. */
  u: string
  unit: string
  /** What it rests on, or how it was read. */
  words: string
}

/** A figure for a still; null where it is absent. */
export function stillOf(
  label: string,
  figure: { value?: number | null; u?: number | null } | null | undefined,
  unit: string,
  words = '',
): StillFigure | null {
  if (figure?.value == null) return null
  const text = figureText(figure.value, figure.u)
  return { label, value: text.value, u: text.u ?? '', unit, words }
}

/** How large a figure stands on its still: as large as fits, and never above 300 px. */
export function figureLetters(figure: StillFigure): number {
  const said =
    figure.value.length + 0.55 * (figure.unit.length + 1 + (figure.u ? figure.u.length + 3 : 0))
  return Math.round(Math.min(300, (STILL.width - 160) / (0.66 * Math.max(1, said))))
}

/** One figure as a still: what it is, its value large, ± and unit beside it, what it rests on. */
export async function figureStill(
  title: string,
  figure: StillFigure,
  colors: ChartColors = PAPER,
): Promise<Blob> {
  const large = figureLetters(figure)
  return painted((context) => {
    heading(context, title, colors)
    context.font = `400 64px ${FONT}`
    context.fillStyle = colors.soft
    context.fillText(figure.label, 60, 330, STILL.width - 120)
    let x = 60
    const write = (text: string, size: number, color: string) => {
      context.font = `400 ${size}px ${FONT}`
      context.fillStyle = color
      context.fillText(text, x, 700)
      x += context.measureText(text).width
    }
    write(figure.value, large, colors.ink)
    if (figure.u) write(` ± ${figure.u}`, 0.5 * large, colors.soft)
    write(` ${figure.unit}`, 0.5 * large, colors.soft)
    context.font = `400 36px ${FONT}`
    context.fillStyle = colors.soft
    context.fillText(figure.words, 60, 860, STILL.width - 120)
    context.font = `400 24px ${FONT}`
    if (figure.u) context.fillText('± is the standard uncertainty.', 60, STILL.height - 30)
  }, colors)
}

function line(context: CanvasRenderingContext2D, y: number) {
  context.beginPath()
  context.moveTo(60, y)
  context.lineTo(STILL.width - 60, y)
  context.stroke()
}

function heading(context: CanvasRenderingContext2D, title: string, colors: ChartColors) {
  context.font = `700 48px ${FONT}`
  context.fillStyle = colors.ink
  context.fillText(title, 60, 78, STILL.width - 120)
}

async function painted(
  paint: (context: CanvasRenderingContext2D) => void,
  colors: ChartColors,
): Promise<Blob> {
  const canvas = document.createElement('canvas')
  canvas.width = STILL.width
  canvas.height = STILL.height
  const context = canvas.getContext('2d')
  if (!context) throw new Error('This browser cannot draw a still.')
  await document.fonts.ready
  context.fillStyle = colors.sheet
  context.fillRect(0, 0, STILL.width, STILL.height)
  paint(context)
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('No still was made.'))),
      'image/png',
    ),
  )
}
