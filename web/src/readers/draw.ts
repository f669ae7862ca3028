/**
 * Draws what readers' pages show, without a browser: charts from the application's own chart
 * options, motors from its own cutaway. A line of JSON in asks for one drawing, a line out has it.
 */
import '@/charts/engine'
import { createInterface } from 'node:readline'
import type { EChartsOption } from 'echarts'
import { init } from 'echarts/core'
import { createSSRApp } from 'vue'
import { renderToString } from 'vue/server-renderer'
import type { Schemas } from '@/api/client'
import Cutaway from '@/cutaway/Cutaway.vue'
import { type Seen } from '@/cutaway/dimensions'
import { comparisonOption, shortNames } from '@/features/compare/curves'
import { motorMark, runMarks } from '@/figures/motorMark'
import { headOf, tell, unitOf, type Words } from '@/words/words'
import { tidy } from './tidy'

interface Chart {
  draw: 'chart'
  key: string
  comparison: Schemas['Comparison']
  x_name: string
  y_name: string
}
interface Cut {
  draw: 'cutaway'
  key: string
  seen: Seen[]
  size?: { code: string; basis: string }
  name: string
}
interface Told {
  draw: 'words'
  words: Words
}

const WIDTH = 760
const HEIGHT = 380
const ROOM = 216

/** A chart as SVG, with what is needed to read it off: where its axes lie, and its curves. */
function chart({ key, comparison, x_name, y_name }: Chart) {
  const drawn = comparison.subjects.filter((one) => one.drawn)
  const motors = new Set(drawn.map((one) => one.motor))
  // Where all is one motor, its propellers take the colours.
  const marks =
    motors.size > 1
      ? runMarks(drawn.map((one) => one.motor))
      : drawn.map((_, at) => motorMark(at + 1))
  const option = comparisonOption(comparison, marks, {
    x_name,
    y_name,
    pinned: null,
    marks: [],
    height: HEIGHT,
    room: ROOM,
  }) as EChartsOption
  // The band says ±2u already; a bar at every point would double the drawing.
  const series = (option.series as { name?: string }[]).filter((one) => !one.name?.endsWith(' ±2u'))
  const engine = init(null, null, { renderer: 'svg', ssr: true, width: WIDTH, height: HEIGHT })
  engine.setOption({ ...option, series, animation: false, tooltip: { show: false } })
  const svg = tidy(engine.renderToSVGString(), key)
  const grid = { left: 58, right: WIDTH - ROOM, top: 16, bottom: HEIGHT - 44 }
  // The engine makes room for the labels of the axis: where zero came to lie it says itself.
  grid.left = engine.convertToPixel({ xAxisIndex: 0 }, 0) as number
  const most = engine.convertFromPixel({ xAxisIndex: 0 }, grid.right) as number
  engine.dispose()
  const names = shortNames(drawn)
  return {
    svg,
    reading: {
      width: WIDTH,
      height: HEIGHT,
      ...grid,
      left: short(grid.left),
      x: [0, short(most)],
      x_head: headOf(x_name),
      x_unit: unitOf(x_name),
      y_unit: unitOf(y_name),
      series: drawn.flatMap((_, at) => {
        const curve = comparison.curves[at]?.find((c) => c.x_name === x_name && c.y_name === y_name)
        if (!curve?.x.length) return []
        return [
          {
            name: names[at],
            color: marks[at]?.color,
            x: curve.x.map(short),
            y: curve.y.map(short),
            u: curve.u.map(short),
          },
        ]
      }),
    },
  }
}

const short = (value: number | null) => (value === null ? null : Number(value.toPrecision(5)))

async function cutaway({ key, seen, size, name }: Cut) {
  const app = createSSRApp(Cutaway, { seen, size, name })
  app.config.errorHandler = (failure) => {
    throw failure
  }
  const html = await renderToString(app)
  return { svg: tidy(html, key, 2), reading: null }
}

async function answer(line: string): Promise<object> {
  const asked = JSON.parse(line) as Chart | Cut | Told
  if (asked.draw === 'words') {
    tell(asked.words)
    return { drawn: true }
  }
  if (asked.draw === 'chart') return chart(asked)
  if (asked.draw === 'cutaway') return await cutaway(asked)
  throw new Error('Nothing that can be drawn was asked for.')
}

for await (const line of createInterface({ input: process.stdin })) {
  let told: object
  try {
    told = await answer(line)
  } catch (failure) {
    told = { fault: failure instanceof Error ? failure.message : String(failure) }
  }
  process.stdout.write(`${JSON.stringify(told)}\n`)
}
