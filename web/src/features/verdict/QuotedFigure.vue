<script setup lang="ts">
/** A figure where it stands in prose: as somebody stood by it, marked where it has moved. */
import { NodeViewWrapper, nodeViewProps } from '@tiptap/vue-3'
import { computed, inject } from 'vue'
import { FIGURES } from './prose'

const props = defineProps(nodeViewProps)
const figures = inject(FIGURES)
const found = computed(() => figures?.value.get(Number(props.node.attrs.figure)))
const said = computed(() => {
  const one = found.value
  if (!one) return 'a figure that is not there any more'
  const rests = one.n ? `, n = ${one.n}` : ''
  const now = one.stale ? `; now ${one.now || one.why_absent || 'gone'}` : ''
  return `${one.words}${rests}${now}`
})
</script>

<template>
  <NodeViewWrapper
    as="span"
    class="quoted"
    :class="{ stale: found?.stale && !found.word, lost: !found, chosen: props.selected }"
    :title="said"
    >{{ found?.stated ?? '?'
    }}<span v-if="found?.stale && !found.word" class="mark" aria-hidden="true">≠</span
    ><span v-if="found?.stale && !found.word" class="visually-hidden">
      (stale)</span
    ></NodeViewWrapper
  >
</template>

<style scoped>
.quoted {
  padding: 0 3px;
  border-bottom: 1.5px solid var(--copper);
  /* Its wrapper sets white space by itself. */
  white-space: nowrap !important;
  font-variant-numeric: tabular-nums;
}
.quoted.chosen {
  outline: 2px solid var(--copper);
}
.quoted.stale,
.quoted.lost {
  border-bottom-color: var(--caution);
  background: var(--caution-soft);
}
.mark {
  margin-left: 3px;
  color: var(--caution);
  font-weight: 700;
}
</style>
