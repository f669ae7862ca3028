<script setup lang="ts">
/**
 * The points of a run with units and ±. Figures every kind of run has come first, then those of
 * its own kind; a figure no point has gets no column. Yes-or-no marks stand as words.
 */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { isQuantity, labelOf, unitOf } from '@/words/words'

const props = defineProps<{ points: Schemas['Point'][] }>()
const ORDER = [
  'throttle_pct',
  'thrust_gf',
  'power_w',
  'efficiency_g_per_w',
  'current_a',
  'voltage_v',
  'speed_rpm',
  'torque_nm',
  'motor_esc_efficiency_pct',
  'motor_temp_c',
]
/** Beside the question of a run; the CSV has them. */
const EXPORT_ONLY = ['ambient_temp_c', 'vibration_g', 'shaft_power_w', 'duty']
const MARKS: Record<string, [string, string]> = {
  reached: ['reached', 'not reached'],
}
const columns = computed(() => {
  const held = new Set(
    props.points.flatMap((point) =>
      Object.keys(point.figures).filter((name) => point.figures[name]),
    ),
  )
  const own = [...held].filter(
    (name) => isQuantity(name) && !ORDER.includes(name) && !EXPORT_ONLY.includes(name),
  )
  return [...ORDER.filter((name) => held.has(name)), ...own]
})

function markOf(name: string, value: boolean): string {
  return (MARKS[name] ?? [name, `not ${name}`])[value ? 0 : 1]
}
</script>

<template>
  <div class="wide" tabindex="0" role="region" aria-label="Points of the run">
    <table class="grid points">
      <thead>
        <tr>
          <th v-for="name in columns" :key="name" class="num">
            {{ labelOf(name) }}<br /><span class="soft">{{ unitOf(name) }}</span>
          </th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="point in points" :key="point.start_s">
          <td v-for="name in columns" :key="name" class="num">
            <Figure
              :value="point.figures[name]?.value"
              :u="point.figures[name]?.u"
              :reason="point.absent[name]?.note"
            />
          </td>
          <td>
            <span v-if="!point.settled" class="tag caution">not settled</span>
            <span
              v-for="(value, name) in point.marks"
              :key="name"
              class="tag"
              :class="{ caution: !value }"
              >{{ markOf(String(name), value) }}</span
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
.points {
  font-size: 12.5px;
}
.points td,
.points th {
  padding-right: 4px;
}
</style>
