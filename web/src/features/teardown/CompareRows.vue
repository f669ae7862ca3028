<script setup lang="ts">
/** Rows of a comparison: one attribute or derived figure across the samples. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { OUTCOMES, shownRows } from './comparing'

const props = defineProps<{
  rows: Schemas['InsideRow'][]
  heads: string[]
  everything: boolean
}>()
const shown = computed(() => shownRows(props.rows, props.everything))
const TAGS: Record<string, string> = { different: 'caution', same: 'within' }
</script>

<template>
  <p v-if="!shown.length" class="soft">
    No difference that can be told: what was looked at on both is the same, or not told apart.
  </p>
  <table v-else class="grid">
    <thead>
      <tr>
        <th>Looked at</th>
        <th v-for="head in heads" :key="head">{{ head }}</th>
        <th>Outcome</th>
      </tr>
    </thead>
    <tbody>
      <template v-for="(row, at) in shown" :key="row.key">
        <tr v-if="at === 0 || shown[at - 1]?.step !== row.step" class="step">
          <th :colspan="heads.length + 2" scope="rowgroup">{{ row.step }}</th>
        </tr>
        <tr>
          <td>{{ row.label }}</td>
          <td v-for="(cell, column) in row.cells" :key="column" :class="cell.status">
            <Figure
              v-if="cell.value !== null"
              :value="cell.value"
              :u="cell.u"
              :unit="row.unit ?? ''"
            />
            <span
              v-else-if="cell.status === 'derived'"
              class="soft"
              tabindex="0"
              :data-reason="cell.text"
              >—</span
            >
            <span v-if="cell.text && (cell.value === null || cell.status !== 'derived')">
              {{ cell.status === 'derived' ? '' : cell.text }}</span
            >
          </td>
          <td>
            <span class="tag" :class="TAGS[row.outcome]">{{ OUTCOMES[row.outcome] }}</span>
          </td>
        </tr>
      </template>
    </tbody>
  </table>
</template>

<style scoped>
.step th {
  padding-top: 12px;
  font-weight: 700;
  color: var(--ink);
}
td.not_looked,
td.could_not_tell {
  color: var(--ink-soft);
}
td.inferred {
  font-style: italic;
}
</style>
