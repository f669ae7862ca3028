<script setup lang="ts">
/** How far each motor may be loaded: the heaviest propeller below its limits, the lightest above. */
import type { Schemas } from '@/api/client'
import { figureLine } from '@/figures/format'

defineProps<{ brackets: readonly Schemas['Bracket'][] }>()
type End = Schemas['BracketEnd'] | null
const share = (end: End) =>
  end?.used == null
    ? ''
    : `~${figureLine(100 * end.used, 100 * (end.used_u ?? 0), '%')} of the tightest limit`
</script>

<template>
  <section v-if="brackets.length" class="sheet" aria-labelledby="brackets">
    <h2 id="brackets">How far it may be loaded</h2>
    <table>
      <thead>
        <tr>
          <th scope="col">Motor</th>
          <th scope="col">Heaviest below every limit</th>
          <th scope="col">Lightest above one</th>
          <th scope="col">Next step</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in brackets" :key="row.sample">
          <th scope="row">{{ row.name }}</th>
          <td v-for="end in ['below', 'above', 'next'] as const" :key="end">
            <template v-if="row[end]">
              <span :class="{ foreseen: !row[end]?.tried }">{{ row[end]?.name }}</span>
              <span class="soft small">
                {{ end === 'next' ? '' : row[end]?.tried ? 'was run' : 'foreseen' }}
                <em>{{ share(row[end]) }}</em></span
              >
            </template>
            <span v-else class="absent" :data-reason="row.words">—</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      Run it in this order: each step is the smallest that tells more, with the hard limits armed. A
      rating is the maker's; what stays below one here may still be too much for another sample.
    </p>
  </section>
</template>

<style scoped>
table {
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 4px 10px 4px 0;
  vertical-align: baseline;
}
thead th {
  font-weight: 400;
  color: var(--ink-soft);
}
.foreseen {
  font-style: italic;
}
td .small {
  display: block;
}
</style>
