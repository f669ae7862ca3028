<script setup lang="ts">
/** Motor × propeller for one figure, shaded on one scale; what was never run is estimated or offered. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { unitOf } from '@/words/words'
import { emptyPlaces, mountedFor, type Place, shadeOf, turned } from './bench'
import PivotCell from './PivotCell.vue'
import { deltaLine, formatNumber } from '@/figures/format'

const props = defineProps<{ pivot: Schemas['Pivot']; mayRun: boolean; planning?: boolean }>()
const emit = defineEmits<{
  run: [motor: number, propeller: number | null]
  plan: [what: { title: string; samples: number[]; propellers: number[]; supplies: number[] }]
}>()
const opened = ref<Cell | null>(null)
const runWords = (count: number) => `${count} run${count === 1 ? '' : 's'}`
const placeWords = (place: Place) => `${place.column.name} on ${place.motor.name}`
function planOne(place: Place) {
  const wanted = mountedFor(place)
  if (!wanted) return
  emit('plan', {
    title: `${place.motor.name} on ${place.column.name}`,
    samples: [wanted.sample],
    propellers: [wanted.propeller],
    supplies: [wanted.supply],
  })
}
const planAll = () =>
  emit('plan', { title: `The empty cells: ${empty.value.count} combinations`, ...empty.value })
const propellersDown = ref(false)
const table = computed(() => turned(props.pivot, propellersDown.value))
const empty = computed(() => emptyPlaces(table.value))
const shade = computed(() => shadeOf(props.pivot))
type Cell = Schemas['PivotCell']
const background = (cell: Cell) => {
  const share = shade.value(cell)
  return share === null
    ? {}
    : {
        background: `color-mix(in srgb, var(--within) ${Math.round(3 + 19 * share)}%, transparent)`,
      }
}
const effects = computed(() => ({
  motors: props.pivot.motors.filter((one) => one.effect_pct?.value != null),
  propellers: props.pivot.propellers.filter((one) => one.effect_pct?.value != null),
}))
</script>

<template>
  <div class="scroll">
    <table class="pivot">
      <caption class="visually-hidden">
        Motors against propellers
      </caption>
      <thead>
        <tr>
          <th scope="col">
            <el-button size="small" text @click="propellersDown = !propellersDown"
              >turn the table</el-button
            >
          </th>
          <th v-for="head in table.heads" :key="head.key" scope="col">
            <MotorMark v-if="head.motor !== null" :motor="head.motor" />{{ head.name }}
          </th>
        </tr>
      </thead>
      <!-- Plain keys: a bench of 60 motors has 3,300 cells, and a component in each takes seconds. -->
      <tbody>
        <tr v-for="row in table.rows" :key="row.key">
          <th scope="row">
            <MotorMark v-if="row.motor !== null" :motor="row.motor" />{{ row.name }}
          </th>
          <td
            v-for="(place, index) in row.places"
            :key="index"
            :style="place.cell && background(place.cell)"
          >
            <template v-if="place.cell">
              <Figure
                :value="place.cell.figure.value"
                :u="place.cell.figure.u"
                :unit="unitOf(pivot.name)"
                :reason="place.cell.figure.reason"
                :estimated="place.cell.estimated"
              />
              <span v-for="mark in place.cell.marks" :key="mark" class="tag within n">{{
                mark
              }}</span>
              <span v-if="place.cell.pick" class="tag picked n" :title="place.cell.pick.why"
                >picked</span
              >
            </template>
            <button
              v-if="place.cell?.runs"
              type="button"
              class="n key"
              :aria-label="`${runWords(place.cell.runs)}: ${placeWords(place)}`"
              @click="opened = place.cell"
            >
              {{ runWords(place.cell.runs) }}
            </button>
            <button
              v-else-if="mayRun && mountedFor(place)"
              type="button"
              class="n key"
              :disabled="planning"
              :aria-label="`plan it: ${placeWords(place)}`"
              @click="planOne(place)"
            >
              plan it
            </button>
            <button
              v-else-if="mayRun && place.column.propeller"
              type="button"
              class="n key"
              :aria-label="`run it: ${placeWords(place)}`"
              @click="emit('run', place.motor.motor, place.column.propeller)"
            >
              run it
            </button>
            <span v-else-if="!place.cell" class="n absent" data-reason="never run">—</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="mayRun && empty.count > 1">
    <el-button size="small" :loading="planning" @click="planAll"
      >Put the {{ empty.count }} empty cells into the plan</el-button
    >
  </p>
  <PivotCell :pivot="pivot" :cell="opened" :may-write="mayRun" @close="opened = null" />
  <p class="small soft">
    Shaded from the smallest to the largest of the table. Slanted with ~: never run, estimated from
    the other cells.
    <template v-if="pivot.interaction_pct != null">
      What motor and propeller do apart leaves {{ formatNumber(pivot.interaction_pct, 1) }} %
      unexplained:
      {{
        pivot.interaction_pct < 2
          ? 'they hardly depend on each other'
          : 'some propellers suit some motors more than others'
      }}.
    </template>
    <template v-else-if="pivot.no_effects"
      >Nothing is estimated: it {{ pivot.no_effects }}.</template
    >
  </p>
  <p v-if="effects.motors.length" class="small">
    Motors, on the mean propeller:
    <template v-for="(one, index) in effects.motors" :key="one.motor"
      ><template v-if="index">; </template>{{ one.name }}
      <span class="figure">{{
        deltaLine(one.effect_pct?.value ?? 0, one.effect_pct?.u)
      }}</span></template
    >.
    <template v-if="effects.propellers.length">
      Propellers, on the mean motor:
      <template v-for="(one, index) in effects.propellers" :key="one.name + one.supply"
        ><template v-if="index">; </template>{{ one.name }}
        <span class="figure">{{
          deltaLine(one.effect_pct?.value ?? 0, one.effect_pct?.u)
        }}</span></template
      >.
    </template>
  </p>
</template>

<style scoped>
.scroll {
  /* What is said to readers of a screen stays inside. */
  position: relative;
  overflow-x: auto;
}
.key {
  border: 0;
  background: none;
  padding: 0 4px;
  min-height: 24px;
  font: inherit;
  font-size: 12px;
  color: var(--ink-soft);
  cursor: pointer;
}
.key:hover:not(:disabled) {
  color: var(--ink);
  text-decoration: underline;
}
.tag.n {
  width: fit-content;
  margin-left: auto;
}
.pivot {
  border-collapse: collapse;
}
th {
  font-weight: 400;
  font-size: 12.5px;
  text-align: left;
  padding: 4px 10px;
  vertical-align: bottom;
}
/* Whose row it is stays in sight while the columns pass. */
tbody th,
thead th:first-child {
  position: sticky;
  left: 0;
  z-index: 1;
  background: var(--sheet);
}
thead th {
  border-bottom: 1px solid var(--ink-soft);
}
tbody th {
  vertical-align: middle;
  /* A usual name on one line; a long one on two or three, so that it leaves room for columns. */
  min-width: 216px;
  max-width: 240px;
}
@media (max-width: 1000px) {
  tbody th {
    min-width: 150px;
  }
}
td {
  padding: 6px 10px;
  border: 1px solid var(--sheet);
  text-align: right;
  min-width: 118px;
}
.n {
  display: block;
  margin-left: auto;
}
</style>
