<script setup lang="ts">
/** The limits a run was made under, and who chose that one is off. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { figureText } from '@/figures/format'
import { wordOf } from '@/words/words'

const props = defineProps<{ run: Schemas['RunDetail'] }>()
const DEFAULT_GRACE_S = 2

const on = computed(() => props.run.limits.filter((limit) => limit.limit !== null))
const off = computed(() => props.run.limits.filter((limit) => limit.limit === null))
const hand = computed(() => wordOf('command_source', props.run.command_source))
const brief = (value: number) => figureText(value).value
</script>

<template>
  <section class="sheet small limits" aria-label="Limits of the run">
    <strong>{{ run.by_hand ? 'Warned at' : 'Cut at' }}</strong>
    <span v-if="run.by_hand" class="tag caution"
      >by hand{{ hand ? `: ${hand.toLowerCase()}` : '' }}; nothing here could cut it</span
    >
    <span v-if="run.guard_off_by" class="tag caution"
      >nothing was foreseen between its steps, {{ run.guard_off_by }}’s choice</span
    >
    <span v-for="limit in on" :key="limit.name"
      >{{ limit.label }} {{ limit.name === 'voltage_floor_v' ? 'below ' : ''
      }}{{ brief(limit.limit ?? 0) }} {{ limit.unit }}</span
    >
    <span v-for="limit in off" :key="limit.name" class="tag caution"
      >{{ limit.label }}: no limit,
      {{ limit.off_by ? `${limit.off_by}’s choice` : 'who chose is not on record' }}</span
    >
    <span v-if="(run.page_grace_s ?? 0) > DEFAULT_GRACE_S" class="tag caution"
      >went on for {{ run.page_grace_s }} s without a page</span
    >
  </section>
</template>

<style scoped>
.limits {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
}
</style>
