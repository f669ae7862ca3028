<script setup lang="ts">
/** Whether what is here is anywhere else, and how it comes to be. */
import type { Schemas } from '@/api/client'
import { dateTime, formatNumber } from '@/figures/format'
import { size } from './upkeep'

defineProps<{ backups: Schemas['Backups'] }>()
</script>

<template>
  <section class="sheet" aria-labelledby="backups">
    <h2 id="backups">Backups</h2>
    <p v-if="backups.last">
      The last is of <strong>{{ dateTime(backups.last.at) }}</strong>,
      {{ size(backups.last.bytes) }}, made and checked in
      <span class="figure">{{ formatNumber(backups.last.took_s, 1) }} s</span>:
      <code>{{ backups.last.path }}</code>
    </p>
    <p v-else>None was made yet.</p>
    <p v-if="backups.to">
      Every day at {{ backups.at }} into <code>{{ backups.to }}</code>; the older ones are thinned.
      Keep a copy on another machine.
    </p>
    <p v-else>None is made by itself. In the checkout, on a disk that is not this one:</p>
    <pre v-if="!backups.to">./spindle backup /where/backups/go --daily 03:15</pre>
    <p class="small soft">
      One is made by hand with <code>./spindle backup FOLDER</code>, looked at with
      <code>--check</code>, and becomes an installation with
      <code>./spindle restore FILE --folder NEW</code>.
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin-bottom: 6px;
}
code {
  overflow-wrap: anywhere;
}
pre {
  white-space: pre-wrap;
  margin: 0 0 8px;
  padding: 6px 10px;
  border: 1px solid var(--line);
}
</style>
