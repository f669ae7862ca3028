<script setup lang="ts">
/** A difference under a figure: per cent, its u, and what may be said of it. */
import { computed } from 'vue'
import { deltaText } from '@/figures/format'
import { deltaTone, OUTCOME_WORDS } from './cells'

const props = defineProps<{
  name: string
  delta: { delta: number; delta_pct: number; u_pct: number; outcome: string } | null
}>()
const text = computed(() => props.delta && deltaText(props.delta.delta_pct, props.delta.u_pct))
</script>

<template>
  <span v-if="delta && text" class="delta" :class="deltaTone(name, delta)">
    <span class="figure"
      >{{ text.value }}<span v-if="text.u" class="u"><span class="pm">±</span>{{ text.u }}</span
      ><span class="unit">%</span></span
    >
    <span class="word">{{ OUTCOME_WORDS[delta.outcome] }}</span>
  </span>
</template>

<style scoped>
.delta {
  display: block;
  font-size: 12.5px;
}
.word {
  display: block;
  color: var(--ink-soft);
}
.better .figure {
  color: var(--within-ink);
}
.worse .figure {
  color: var(--copper-dark);
}
</style>
