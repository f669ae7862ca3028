<script setup lang="ts">
/** Figures at equal thrust, a column per run, with what may be said of each difference. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import type { Mark } from '@/figures/motorMark'
import MotorMark from '@/figures/MotorMark.vue'
import { labelOf, unitOf } from '@/words/words'
import { absentText, deltaOf, deltaTone, OUTCOME_WORDS } from './cells'
import { shortNames } from './comparisonOption'

const props = defineProps<{ comparison: Schemas['Comparison']; marks: Mark[] }>()
const NAMES = ['efficiency_g_per_w', 'power_w', 'current_a', 'throttle_pct', 'speed_rpm']
const name = ref('efficiency_g_per_w')
const rows = computed(() => props.comparison.rows.filter((row) => row.name === name.value))
const heads = computed(() => shortNames(props.comparison.runs))
</script>

<template>
  <div class="tabs" role="group" aria-label="Figure to compare">
    <button
      v-for="item in NAMES"
      :key="item"
      type="button"
      :aria-pressed="item === name"
      @click="name = item"
    >
      {{ labelOf(item) }}
    </button>
  </div>
  <table class="grid">
    <thead>
      <tr>
        <th class="num">At thrust</th>
        <th v-for="(run, index) in comparison.runs" :key="run.id">
          <MotorMark :motor="run.motor" :mark="marks[index]" />{{ heads[index] }}
          <span v-if="run.id === comparison.baseline" class="tag">baseline</span>
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.thrust_gf">
        <td class="num"><Figure :value="row.thrust_gf" unit="gf" /></td>
        <td v-for="(cell, index) in row.cells" :key="index">
          <template v-if="cell.value !== null">
            <Figure :value="cell.value" :u="cell.u" :unit="unitOf(name)" />
            <span v-if="cell.outcome" class="delta" :class="deltaTone(name, cell)">
              <span v-if="deltaOf(cell)" class="figure"
                >{{ deltaOf(cell)!.value
                }}<span class="u"><span class="pm">±</span>{{ deltaOf(cell)!.u }}</span
                ><span class="unit">%</span></span
              >
              <span class="tag" :class="cell.outcome">{{ OUTCOME_WORDS[cell.outcome] }}</span>
            </span>
          </template>
          <span v-else class="soft" :title="cell.absent_note">{{ absentText(cell) }}</span>
        </td>
      </tr>
    </tbody>
  </table>
  <p class="small soft">
    “No measurable difference”: the 90 % interval lies inside ±{{ comparison.margin_pct }} %. “Not
    resolved”: the runs at hand cannot tell; repeat them.
    <span v-for="remark in comparison.remarks" :key="remark">{{ remark }} </span>
  </p>
</template>

<style scoped>
.tabs {
  display: flex;
  gap: 4px;
  margin: 8px 0;
}
.tabs button {
  border: 1px solid var(--line);
  background: none;
  border-radius: 3px;
  padding: 4px 10px;
  cursor: pointer;
}
.tabs button[aria-pressed='true'] {
  background: var(--ink);
  color: #fff;
}
.delta {
  margin-left: 12px;
  font-size: 12.5px;
}
.delta .tag {
  margin-left: 8px;
  font-family: var(--text);
}
.better {
  color: #14564f;
}
.worse {
  color: #8a3e12;
}
p {
  margin: 8px 0 0;
}
</style>
