<script setup lang="ts">
/** A figure with its u and unit; an em dash with a reason where it is absent. */
import { computed } from 'vue'
import Digits from './Digits.vue'
import { figureText } from './format'

const props = defineProps<{
  value: number | null | undefined
  u?: number | null
  unit?: string
  reason?: string
  estimated?: boolean
}>()

const text = computed(() =>
  props.value === null || props.value === undefined ? null : figureText(props.value, props.u),
)
</script>

<template>
  <span v-if="text" class="figure" :class="{ estimated }">
    <template v-if="estimated">~</template><Digits :text="text.value" /><span
      v-if="text.u"
      class="u"
      ><span class="pm">±</span><Digits :text="text.u" /></span
    ><span v-if="unit" class="unit">{{ unit }}</span>
  </span>
  <span v-else class="figure absent" :title="reason || 'not measured'"
    >—<span class="visually-hidden">{{ reason || 'not measured' }}</span></span
  >
</template>
