<script setup lang="ts">
/** One chart of the comparison: its axes are chosen, places on it are marked with a text. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import ChartSheet from '@/charts/ChartSheet.vue'
import type { Mark } from '@/figures/motorMark'
import { labelOf, unitOf } from '@/words/words'
import { DRAWN, OVER } from './asked'
import { type ChartMark, comparisonOption, comparisonTable, curveOf, quotedOn } from './curves'
import { figureText } from '@/figures/format'

const HEIGHT = 290
const props = defineProps<{
  comparison: Schemas['Comparison']
  marks: Mark[]
  x: string
  y: string
  noted: ChartMark[]
  mayMark: boolean
}>()
const emit = defineEmits<{
  axes: [x: string, y: string]
  pick: [x: number]
  note: [marks: ChartMark[]]
}>()
const picked = ref<number | null>(null)
const text = ref('')
const pinned = computed(() => (props.x === props.comparison.condition ? picked.value : null))
const own = computed(() =>
  props.noted.filter((one) => one.x_name === props.x && one.y_name === props.y),
)
const missing = computed(() =>
  props.comparison.curves
    .map((_, at) => curveOf(props.comparison, at, props.x, props.y))
    .filter((curve) => curve && !curve.x.length),
)
const quotes = computed(() => quotedOn(props.comparison, props.x, props.y))
const nothing = computed(() => missing.value.length === props.comparison.curves.length)
function pick(x: number) {
  picked.value = x
  emit('pick', x)
}
function mark() {
  if (picked.value === null || !text.value.trim()) return
  const one = {
    x_name: props.x,
    y_name: props.y,
    x: Number(picked.value.toPrecision(4)),
    text: text.value.trim(),
  } as ChartMark
  emit('note', [...props.noted, one])
  text.value = ''
}
const drop = (one: ChartMark) =>
  emit(
    'note',
    props.noted.filter((other) => other !== one),
  )
const shown = (value: number) => figureText(value).value
</script>

<template>
  <section class="sheet chart-sheet">
    <div class="axes">
      <el-select
        :model-value="y"
        size="small"
        filterable
        default-first-option
        aria-label="Drawn figure"
        class="axis"
        @update:model-value="emit('axes', x, String($event))"
      >
        <el-option
          v-for="one in DRAWN.filter((name) => name !== x)"
          :key="one"
          :value="one"
          :label="labelOf(one)"
        />
      </el-select>
      <span class="soft">over</span>
      <el-select
        :model-value="x"
        size="small"
        filterable
        default-first-option
        aria-label="Drawn over"
        class="axis"
        @update:model-value="emit('axes', String($event), y)"
      >
        <el-option
          v-for="one in OVER.filter((name) => name !== y)"
          :key="one"
          :value="one"
          :label="labelOf(one)"
        />
      </el-select>
    </div>
    <p v-if="nothing" class="soft none">
      Nothing to draw: {{ missing[0]?.reason || 'none of the runs tells it' }}.
    </p>
    <ChartSheet
      v-else
      :option="
        comparisonOption(comparison, marks, {
          x_name: x,
          y_name: y,
          pinned,
          marks: noted,
          height: HEIGHT,
        })
      "
      :table="comparisonTable(comparison, x, y)"
      :name="`compare-${y}-over-${x}`"
      :title="`${labelOf(y)} over ${labelOf(x).toLowerCase()}`"
      :height="HEIGHT"
      :label="`${y} over ${x} of what is compared`"
      @pick="pick"
    />
    <p v-if="quotes.length" class="soft small claims">
      Hollow, dashed: what a source claims on the same propeller and as many cells. It is in no
      figure.
    </p>
    <form v-if="mayMark && !nothing" class="note" @submit.prevent="mark">
      <template v-if="picked !== null">
        <el-input
          v-model="text"
          size="small"
          maxlength="80"
          :placeholder="`a word at ${shown(picked)} ${unitOf(x)}`"
          aria-label="Text of the mark"
        />
        <el-button size="small" native-type="submit">Mark it</el-button>
      </template>
      <span v-else class="soft small">a click on the chart picks a place to read or to mark</span>
      <span v-for="one in own" :key="`${one.x}${one.text}`" class="tag"
        >{{ one.text }}
        <button
          type="button"
          class="drop"
          :aria-label="`Take away the mark ${one.text}`"
          @click="drop(one)"
        >
          ×
        </button></span
      >
    </form>
  </section>
</template>

<style scoped>
.chart-sheet {
  margin-top: 10px;
  padding: 8px 6px 6px;
}
.axes,
.note {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  padding: 0 8px;
}
.axis {
  width: 152px;
}
.note .el-input {
  width: 220px;
}
.none {
  padding: 60px 16px;
  text-align: center;
}
.drop {
  border: 0;
  background: none;
  cursor: pointer;
  min-width: 24px;
  min-height: 24px;
}
</style>
