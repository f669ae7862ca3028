<script setup lang="ts">
/** Why a figure is a dash, beside it: under the pointer, in focus, or touched. One for the page. */
import { useEventListener } from '@vueuse/core'
import { ref, shallowRef } from 'vue'

const anchor = shallowRef<HTMLElement>()
const reason = ref('')

function at(event: Event) {
  const found = (event.target as Element | null)?.closest?.<HTMLElement>('[data-reason]')
  anchor.value = found ?? undefined
  if (found) reason.value = found.dataset.reason ?? ''
}
useEventListener(document, ['mouseover', 'focusin', 'click'], at)
useEventListener(document, ['focusout', 'scroll'], () => (anchor.value = undefined), {
  capture: true,
})
useEventListener(document, 'keydown', (event) => {
  if (event.key === 'Escape') anchor.value = undefined
})
</script>

<template>
  <el-tooltip
    :visible="Boolean(anchor)"
    virtual-triggering
    :virtual-ref="anchor"
    :content="reason"
    placement="top"
    :show-after="0"
    popper-class="reason-popover"
  />
</template>

<style>
.reason-popover {
  max-width: 320px;
  pointer-events: none;
}
[data-reason] {
  cursor: help;
}
[data-reason]:focus-visible {
  outline: 2px solid var(--copper);
  outline-offset: 2px;
}
</style>
