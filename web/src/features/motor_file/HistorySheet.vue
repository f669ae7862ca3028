<script setup lang="ts">
/** Who changed what, and when. */
import type { Schemas } from '@/api/client'
import { dateTime } from '@/figures/format'

defineProps<{ changes: Schemas['Change'][] }>()
</script>

<template>
  <section class="sheet">
    <h2>History of changes</h2>
    <p v-if="!changes.length" class="soft">Nothing yet.</p>
    <table v-else class="grid small">
      <tbody>
        <tr v-for="(change, index) in changes" :key="index">
          <td class="soft">{{ dateTime(change.at) }}</td>
          <td>{{ change.who }}</td>
          <td>{{ change.kind }} {{ change.what }}</td>
          <td>
            <span
              v-for="field in change.changed.filter((one) => one.field !== 'version')"
              :key="field.field"
              class="field"
            >
              {{ field.field.replaceAll('_', ' ') }}: {{ field.before || '—' }} →
              {{ field.after || '—' }}
            </span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.field + .field::before {
  content: ' · ';
}
h2 {
  margin-bottom: 4px;
}
td:nth-child(-n + 2) {
  white-space: nowrap;
}
</style>
