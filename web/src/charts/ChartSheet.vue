<script setup lang="ts">
/** The one wrapper for charts: theme, hover over all curves, and SVG, PNG and CSV. */
import type { EChartsOption, Payload } from 'echarts'
import { ref } from 'vue'
import VChart from 'vue-echarts'
import './engine'
import { download, pngOf, standaloneSvg, type Table, toCsv } from './save'
import { chartStill } from './stills'
import { PAPER, type ChartColors } from './theme'

const props = withDefaults(
  defineProps<{
    option: EChartsOption
    name: string
    table?: Table
    height?: number
    colors?: ChartColors
    label: string
    /** What a still for footage has as its heading. */
    title?: string
  }>(),
  { table: undefined, height: 280, colors: () => PAPER, title: '' },
)
const emit = defineEmits<{ pick: [x: number]; zoom: [start: number, end: number] }>()

const chart = ref<InstanceType<typeof VChart> | null>(null)
const root = ref<HTMLElement | null>(null)
const problem = ref('')

function drawn(): SVGSVGElement {
  const svg = root.value?.querySelector('svg')
  if (!svg) throw new Error('The chart is not drawn yet.')
  return svg
}

async function save(kind: 'svg' | 'png' | 'csv' | 'still') {
  problem.value = ''
  try {
    if (kind === 'csv' && props.table) {
      download(new Blob([toCsv(props.table)], { type: 'text/csv' }), `${props.name}.csv`)
      return
    }
    if (kind === 'still') {
      const still = await chartStill(props.option, props.title || props.label, props.colors)
      download(still, `${props.name}-16x9.png`)
      return
    }
    const svg = drawn()
    const text = standaloneSvg(svg, props.colors.sheet)
    const blob =
      kind === 'svg'
        ? new Blob([text], { type: 'image/svg+xml' })
        : await pngOf(text, svg.clientWidth, svg.clientHeight)
    download(blob, `${props.name}.${kind}`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : 'The chart was not saved.'
  }
}

/** What is looked at, in parts of a hundred of the axis. */
function onZoom(event: Payload) {
  const { start, end } = (event.batch?.[0] ?? event) as { start?: unknown; end?: unknown }
  if (typeof start === 'number' && typeof end === 'number') emit('zoom', start, end)
}

/** A click anywhere in the plot picks its x. */
function onClick(event: { offsetX: number; offsetY: number }) {
  const place = [event.offsetX, event.offsetY]
  const inside = chart.value?.containPixel({ gridIndex: 0 }, place)
  const at = inside ? chart.value?.convertFromPixel({ gridIndex: 0 }, place) : undefined
  if (Array.isArray(at) && typeof at[0] === 'number') emit('pick', at[0])
}
</script>

<template>
  <figure ref="root" class="chart" :aria-label="label" role="group">
    <VChart
      ref="chart"
      :option="option"
      :init-options="{ renderer: 'svg' }"
      :style="{ height: `${height}px` }"
      autoresize
      @zr:click="onClick"
      @datazoom="onZoom"
    />
    <figcaption v-if="table" class="save">
      <button type="button" @click="save('svg')">SVG</button>
      <button type="button" @click="save('png')">PNG</button>
      <button type="button" aria-label="16:9 still" @click="save('still')">16:9</button>
      <button type="button" @click="save('csv')">CSV</button>
      <span v-if="problem" role="alert">{{ problem }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
.chart {
  margin: 0;
  position: relative;
}
.save {
  position: absolute;
  right: 4px;
  bottom: 0;
  display: flex;
  gap: 2px;
  font-size: 11px;
}
.save button {
  border: 0;
  background: none;
  color: var(--copper);
  text-decoration: underline;
  cursor: pointer;
  padding: 4px;
  min-height: 24px;
}
</style>
