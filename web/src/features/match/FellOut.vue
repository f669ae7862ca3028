<script setup lang="ts">
/** Why the rest fell out, reason by reason. */
import type { Schemas } from '@/api/client'

defineProps<{ reasons: Schemas['CraftMatch']['fell_out'] }>()
</script>

<template>
  <section class="sheet" aria-label="Why the rest fell out">
    <h2>Why the rest fell out</h2>
    <details v-for="one in reasons" :key="one.reason">
      <summary>{{ one.count }}: {{ one.reason }}</summary>
      <ul>
        <li v-for="words in one.examples" :key="words">{{ words }}</li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
summary {
  cursor: pointer;
}
details ul {
  margin: 2px 0 6px;
  padding-left: 22px;
}
</style>
