<script setup lang="ts">
/** A difference under a figure: per cent, its u, and what may be said of it. */
import { deltaTone, OUTCOME_WORDS } from './cells'

defineProps<{
  name: string
  delta: { delta: number; delta_pct: number; u_pct: number; outcome: string } | null
}>()
const signed = (value: number) => `${value >= 0 ? '+' : '−'}${Math.abs(value).toFixed(1)}`
</script>

<template>
  <span v-if="delta" class="delta" :class="deltaTone(name, delta)">
    <span class="figure"
      >{{ signed(delta.delta_pct)
      }}<span v-if="delta.u_pct" class="u"
        ><span class="pm">±</span>{{ delta.u_pct.toFixed(1) }}</span
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
