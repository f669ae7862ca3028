<script setup lang="ts">
/** What accepted runs tell of propellers, from the lightest load to the heaviest. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { columnLook } from '@/figures/columns'
import Figure from '@/figures/Figure.vue'
import FigureCell from '@/figures/FigureCell.vue'

const props = defineProps<{
  rows: readonly Schemas['Coefficients'][]
  names: ReadonlyMap<number, string>
}>()
const COLUMNS = [
  { name: 'ct', reason: 'thrust and speed were not logged together' },
  { name: 'cp', reason: 'current and speed were not logged together' },
  { name: 'merit', reason: 'needs both coefficients' },
] as const
const looks = computed(() => COLUMNS.map(({ name }) => columnLook(props.rows.map((r) => r[name]))))
/** A ladder: what asks least of a motor stands first, and last what nobody can place. */
const ladder = computed(() =>
  [...props.rows].sort(
    (a, b) => (a.load_1e6_m5.value ?? Infinity) - (b.load_1e6_m5.value ?? Infinity),
  ),
)
</script>

<template>
  <table class="grid">
    <thead>
      <tr>
        <th>Propeller, the lightest load first</th>
        <th class="num">Load, CP·D⁵<br />10⁻⁶ m⁵</th>
        <th class="num">CT</th>
        <th class="num">CP</th>
        <th class="num">Merit</th>
        <th class="num">Runs</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in ladder" :key="row.propeller">
        <td>{{ names.get(row.propeller) ?? `number ${row.propeller}` }}</td>
        <td class="num">
          <Figure
            :value="row.load_1e6_m5.value"
            :u="row.load_1e6_m5.u"
            :assumed="row.load_1e6_m5.assumed"
            :reason="row.load_1e6_m5.reason"
          />
        </td>
        <td v-for="(one, at) in COLUMNS" :key="one.name" class="num">
          <FigureCell
            :value="row[one.name].value"
            :u="row[one.name].u"
            :assumed="row[one.name].assumed"
            :reason="row[one.name].reason || one.reason"
            :look="looks[at]!"
          />
        </td>
        <td class="num figure">{{ row.runs }}</td>
      </tr>
    </tbody>
  </table>
  <p class="soft small">
    Whatever motor turned the propeller; ± is the standard uncertainty. Merit is the power that an
    ideal propeller of the size would need at a stand ÷ what this one takes. At one speed the load
    is what a propeller asks of a motor, whatever its size.
  </p>
</template>
