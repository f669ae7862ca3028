<script setup lang="ts">
/** A figure with its u and unit; an em dash with a reason where it is absent. */
import { computed } from 'vue'
import { deltaText, figureText } from './format'

const props = defineProps<{
  value: number | null | undefined
  u?: number | null
  unit?: string
  reason?: string
  estimated?: boolean
  /** Whether a part of u was assumed, because nobody declared it. */
  assumed?: boolean
  /** A difference, in per cent: with its sign. */
  signed?: boolean
}>()

const text = computed(() => {
  if (props.value === null || props.value === undefined) return null
  return props.signed ? deltaText(props.value, props.u) : figureText(props.value, props.u)
})
</script>

<template>
  <span v-if="text" class="figure" :class="{ estimated }">
    <template v-if="estimated">~</template>{{ text.value
    }}<span v-if="text.u" class="u"><span class="pm">±</span>{{ text.u }}</span
    ><sup
      v-if="assumed && text.u"
      class="assumed"
      data-reason="a part of this uncertainty is assumed: nobody declared it"
      >a<span class="visually-hidden">partly assumed</span></sup
    ><span v-if="unit" class="unit">{{ unit }}</span>
  </span>
  <span v-else class="figure absent" tabindex="0" :data-reason="reason || 'not measured'"
    >—<span class="visually-hidden">{{ reason || 'not measured' }}</span></span
  >
</template>

<style scoped>
.assumed {
  font-size: 0.68em;
  color: var(--ink-soft);
}
</style>
