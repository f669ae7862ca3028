<script setup lang="ts">
/** What was read of a log before anything is stored: columns, preamble, points. */
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import PointTable from '@/features/runs/PointTable.vue'
import { count } from '@/figures/format'

defineProps<{ understood: Schemas['Understood'] }>()
</script>

<template>
  <section class="sheet">
    <h2>Understood of {{ understood.file_name }}</h2>
    <p>
      A <strong>{{ understood.kind }}</strong> run of {{ count(understood.row_count) }} rows over
      <Figure :value="understood.duration_s" unit="s" /> at
      <Figure :value="understood.rate_hz" unit="Hz" />;
      {{ understood.result.points.length }}
      {{ understood.result.points.length === 1 ? 'plateau' : 'plateaus' }}.
    </p>
    <div class="columns">
      <table class="grid">
        <thead>
          <tr>
            <th>Column</th>
            <th>Read as</th>
            <th class="num">Lowest</th>
            <th class="num">Highest</th>
            <th class="num">Missing cells</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="column in understood.columns" :key="column.name">
            <td>{{ column.name }}</td>
            <td>
              {{ column.label }} <span class="soft small">{{ column.unit }}</span>
            </td>
            <td class="num"><Figure :value="column.lowest" :unit="column.unit" /></td>
            <td class="num"><Figure :value="column.highest" :unit="column.unit" /></td>
            <td class="num">{{ column.missing }}</td>
          </tr>
          <tr v-for="name in understood.carried_columns" :key="name">
            <td>{{ name }}</td>
            <td colspan="4" class="soft">carried through, not used</td>
          </tr>
        </tbody>
      </table>
      <table class="grid">
        <thead>
          <tr>
            <th colspan="2">Preamble</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in understood.header" :key="line.key">
            <td>{{ line.key }}</td>
            <td>{{ line.value }}</td>
          </tr>
          <tr v-if="!understood.header.length">
            <td class="soft">none</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="warning in understood.result.warnings" :key="warning.message" class="remark">
      {{ warning.message }}
    </p>
  </section>
  <section class="sheet">
    <h2>Its points</h2>
    <p class="soft">
      One per stretch that was averaged; ± is the standard uncertainty within the run, to which the
      accuracy of the meters comes.
    </p>
    <PointTable :points="understood.result.points" />
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 24px;
  align-items: start;
}
.remark {
  border-left: 4px solid var(--caution);
  padding-left: 10px;
  margin: 8px 0 0;
}
</style>
