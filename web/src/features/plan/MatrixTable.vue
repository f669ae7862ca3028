<script setup lang="ts">
/** Every motor on every propeller, predicted: one cell has the focus, arrows move it. */
import { computed, nextTick, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { figureText, formatNumber } from '@/figures/format'
import { readersOf } from './asked'
import { barOf, moved, rowOrder, type Sorting, standing } from './cells'

const props = defineProps<{
  matrix: Schemas['Matrix']
  requests: readonly Schemas['Letter'][]
  sorting: Sorting
  thrust_gf: number
}>()
const emit = defineEmits<{ load: [] }>()
/** The cell in hand, by the server's rows and columns. */
const at = defineModel<[number, number]>({ required: true })
const order = computed(() => rowOrder(props.matrix.cells, props.sorting))
const grid = ref<HTMLTableElement | null>(null)

function go(event: KeyboardEvent) {
  if (event.key === 'Enter') {
    event.preventDefault()
    emit('load')
    return
  }
  const shown = order.value.indexOf(at.value[0])
  const to = moved(event.key, [shown, at.value[1]], order.value.length, props.matrix.columns.length)
  if (!to) return
  event.preventDefault()
  at.value = [order.value[to[0]] ?? 0, to[1]]
  void nextTick(() => grid.value?.querySelector<HTMLElement>('[tabindex="0"]')?.focus())
}
const asked = computed(() =>
  props.matrix.rows.map((_, i) =>
    props.matrix.columns.map((__, j) => readersOf(props.requests, props.matrix, i, j)),
  ),
)
const cellOf = (i: number, j: number) => props.matrix.cells[i]?.[j]
const whole = (value: number | null | undefined) => (value == null ? '—' : formatNumber(value, 0))
/** As many digits as its u leaves; u itself stands in the closer look. */
const foreseen = (value: number | null | undefined, u: number | null | undefined) =>
  value == null ? '—' : `~${figureText(value, u).value}`
</script>

<template>
  <div class="scroller">
    <table ref="grid" role="grid" aria-label="Motors on propellers, predicted" @keydown="go">
      <thead>
        <tr>
          <th class="corner">largest thrust · current<br />g/W at {{ whole(thrust_gf) }} gf</th>
          <th
            v-for="column in matrix.columns"
            :key="column.propeller"
            scope="col"
            :class="column.basis"
            :title="column.words"
          >
            {{ column.name }}
            <span v-if="column.away" class="tag" :data-reason="column.away">not at hand</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="i in order" :key="i">
          <th scope="row" :class="matrix.rows[i]?.basis" :title="matrix.rows[i]?.words">
            {{ matrix.rows[i]?.name }} <strong>{{ matrix.rows[i]?.mark }}</strong>
            <span v-if="matrix.rows[i]?.away" class="tag" :data-reason="matrix.rows[i]?.away"
              >not at hand</span
            >
          </th>
          <td
            v-for="(column, j) in matrix.columns"
            :key="column.propeller"
            role="gridcell"
            :tabindex="at[0] === i && at[1] === j ? 0 : -1"
            :aria-selected="at[0] === i && at[1] === j"
            :class="[standing(cellOf(i, j)!), { idle: !cellOf(i, j)?.worth }]"
            @click="at = [i, j]"
            @focus="at = [i, j]"
          >
            <template v-if="cellOf(i, j)?.thrust_gf !== null">
              <span class="main"
                ><em>{{ foreseen(cellOf(i, j)?.thrust_gf, cellOf(i, j)?.thrust_u_gf) }}</em>
                <small>gf</small>
                <em>{{ foreseen(cellOf(i, j)?.current_a, cellOf(i, j)?.current_u_a) }}</em>
                <small>A</small></span
              >
              <span class="second"
                ><em>{{
                  foreseen(cellOf(i, j)?.common_g_per_w, cellOf(i, j)?.common_u_g_per_w)
                }}</em>
                <small>g/W</small>
                <span v-if="cellOf(i, j)?.runs" class="runs">{{ cellOf(i, j)?.runs }} ✓</span>
                <strong v-if="cellOf(i, j)?.barred" class="runs">does not sit</strong>
                <span v-if="asked[i]?.[j]" class="runs">asked {{ asked[i]?.[j] }}×</span>
                <span class="share">{{ whole(100 * (cellOf(i, j)?.used ?? 0)) }} %</span></span
              >
              <svg viewBox="0 0 100 4" preserveAspectRatio="none" aria-hidden="true">
                <rect width="100" height="4" class="track" />
                <rect :width="barOf(cellOf(i, j)?.used ?? null)" height="4" class="bar" />
              </svg>
              <span class="visually-hidden">of {{ cellOf(i, j)?.tightest }}</span>
            </template>
            <span v-else class="absent" :data-reason="cellOf(i, j)?.why_not">—</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroller {
  overflow: auto;
  max-height: 520px;
}
table {
  border-collapse: separate;
  border-spacing: 3px;
}
th {
  font-weight: 400;
  font-size: 12.5px;
  text-align: left;
  background: var(--sheet);
  position: sticky;
  top: 0;
  z-index: 1;
}
tbody th {
  left: 0;
  min-width: 150px;
  font-size: 13.5px;
  padding-right: 8px;
}
thead .corner {
  left: 0;
  z-index: 2;
  color: var(--ink-soft);
  min-width: 150px;
}
.guessed,
.siblings,
.partly {
  font-style: italic;
}
td {
  min-width: 132px;
  padding: 4px 6px 5px;
  border: 1px solid var(--line);
  border-left: 4px solid var(--within);
  border-radius: 3px;
  background: var(--paper);
  cursor: pointer;
  vertical-align: top;
}
td:focus-visible,
td[aria-selected='true'] {
  outline: 2px solid var(--copper);
  outline-offset: 0;
}
td.near {
  border-left-color: var(--caution);
}
td.beyond {
  border-left-color: var(--stop);
  background: var(--caution-soft);
}
td.unknown {
  border-left-color: var(--line);
}
td.idle .main,
td.idle .second {
  opacity: 0.72;
}
.main,
.second {
  display: block;
  white-space: nowrap;
  font-size: 13.5px;
}
.second {
  display: flex;
  align-items: baseline;
  gap: 3px;
  font-size: 12px;
  color: var(--ink-soft);
}
.second small {
  margin: 0;
}
.share {
  margin-left: auto;
}
.beyond .share {
  font-weight: 700;
  color: var(--ink);
}
.runs {
  margin-left: 3px;
}
small {
  font-size: 10.5px;
  color: var(--ink-soft);
  margin: 0 6px 0 3px;
}
svg {
  display: block;
  width: 100%;
  height: 4px;
  margin-top: 3px;
}
.track {
  fill: var(--line);
}
.bar {
  fill: var(--within);
}
.near .bar {
  fill: var(--caution);
}
.beyond .bar {
  fill: var(--stop);
}
</style>
