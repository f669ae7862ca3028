<script setup lang="ts">
/** A figure in a column: at the column's decimals, ± in a place of its own. */
import { computed } from 'vue'
import type { ColumnLook } from './columns'
import { textAt } from './format'

const props = defineProps<{
  value: number | null | undefined
  u?: number | null
  look: ColumnLook
  reason?: string
  assumed?: boolean
}>()
const text = computed(() =>
  props.value == null ? null : textAt(props.value, props.u, props.look.decimals),
)
</script>

<template>
  <span v-if="text" class="figure cell-figure">
    <span class="value" :style="{ minWidth: `${look.value_ch}ch` }">{{ text.value }}</span><span
      v-if="look.u_ch"
      class="u"
      :style="{ minWidth: `${look.u_ch + 2}ch` }"
      ><template v-if="text.u"
        ><span class="pm">±</span>{{ text.u
        }}<sup
          v-if="assumed"
          data-reason="a part of this uncertainty is assumed: nobody declared it"
          >a<span class="visually-hidden">partly assumed</span></sup
        ></template
      ></span
    >
  </span>
  <span v-else class="figure absent" tabindex="0" :data-reason="reason || 'not measured'"
    >—<span class="visually-hidden">{{ reason || 'not measured' }}</span></span
  >
</template>

<style scoped>
.cell-figure {
  display: inline-flex;
  align-items: baseline;
}
.value {
  text-align: right;
}
.u {
  text-align: left;
}
sup {
  font-size: 0.68em;
}
</style>
