<script setup lang="ts">
/** A difference with its standard uncertainty and the one of three things that may be said. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { deltaOf, deltaTone, OUTCOME_WORDS } from './cells'

const props = defineProps<{ name: string; cell: Schemas['ComparedCell'] }>()
const delta = computed(() => deltaOf(props.cell))
</script>

<template>
  <span v-if="cell.outcome" class="delta" :class="deltaTone(name, cell)">
    <span v-if="delta" class="figure"
      >{{ delta.value }}<span class="u"><span class="pm">±</span>{{ delta.u }}</span
      ><span class="unit">%</span></span
    >
    <span class="tag" :class="cell.outcome">{{ OUTCOME_WORDS[cell.outcome] }}</span>
  </span>
</template>

<style scoped>
.delta {
  margin-left: 12px;
  font-size: 12.5px;
}
.delta .tag {
  margin-left: 8px;
  font-family: var(--text);
}
.better {
  color: var(--within-ink);
}
.worse {
  color: var(--copper-dark);
}
</style>
