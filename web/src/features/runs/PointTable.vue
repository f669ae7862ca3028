<script setup lang="ts">
/** The points of a run with units and ±. A figure no point has gets no column. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { labelOf, unitOf } from '@/figures/quantities'

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
const columns = computed(() =>
  ORDER.filter((name) => props.points.some((point) => point.figures[name])),
)
</script>

<template>
  <div class="wide">
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
            <Figure :value="point.figures[name]?.value" :u="point.figures[name]?.u" />
          </td>
          <td><span v-if="!point.settled" class="tag caution">not settled</span></td>
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
