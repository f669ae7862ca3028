<script setup lang="ts">
/** What is claimed of the compared motors, side by side. */
import type { Schemas } from '@/api/client'

defineProps<{ claims: Schemas['TeardownComparison']['claims']; heads: string[] }>()
</script>

<template>
  <section class="sheet">
    <h2>Claimed <span class="tag claimed">claims, not measurements</span></h2>
    <p v-if="!claims.length" class="soft">Nothing is claimed of these motors.</p>
    <table v-else class="grid">
      <thead>
        <tr>
          <th>Claim</th>
          <th v-for="head in heads" :key="head">{{ head }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="claim in claims" :key="claim.quantity">
          <td>{{ claim.label }}</td>
          <td v-for="(cell, at) in claim.cells" :key="at">
            <template v-if="cell"
              >{{ cell.words || cell.value }}
              <span class="soft small">{{ cell.unit }} · {{ cell.source }}</span></template
            >
            <span v-else class="soft" tabindex="0" data-reason="nothing claimed">—</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
</style>
