<script setup lang="ts">
/** Arms only while it is held: by pointer, or by Enter. Letting go early does nothing. */
import { useEventListener } from '@vueuse/core'
import { onUnmounted, ref, watch } from 'vue'
import { isStopKey } from '@/live/stopKeys'

/** More than this between two looks is not known to have been held: the page stood still. */
const SEEN_S = 0.25
const props = withDefaults(defineProps<{ disabled: boolean; seconds?: number }>(), { seconds: 1.2 })
const emit = defineEmits<{ held: [] }>()
const share = ref(0)
let lookedAt = 0
let frame = 0

function step() {
  const now = performance.now()
  share.value += Math.min(SEEN_S, (now - lookedAt) / 1000) / props.seconds
  lookedAt = now
  if (share.value >= 1) {
    release()
    emit('held')
  } else frame = requestAnimationFrame(step)
}

function press() {
  if (props.disabled || frame) return
  lookedAt = performance.now()
  frame = requestAnimationFrame(step)
}

function release() {
  cancelAnimationFrame(frame)
  frame = 0
  share.value = 0
}

function onKey(event: KeyboardEvent) {
  if (event.key !== 'Enter') return
  event.preventDefault()
  if (!event.repeat) press()
}
// A disabled control is told neither of the finger nor of the key that leaves it.
watch(
  () => props.disabled,
  (hindered) => hindered && release(),
)
useEventListener(window, 'keydown', (event) => isStopKey(event) && release(), { capture: true })
onUnmounted(release)
</script>

<template>
  <button
    type="button"
    class="hold"
    :disabled="disabled"
    :style="{ '--share': share }"
    @pointerdown="press"
    @pointerup="release"
    @pointerleave="release"
    @keydown="onKey"
    @keyup.enter="release"
    @blur="release"
  >
    <slot />
  </button>
</template>

<style scoped>
.hold {
  position: relative;
  width: 100%;
  min-height: 58px;
  border: 2px solid var(--dark-copper);
  border-radius: 5px;
  background: linear-gradient(
    90deg,
    var(--copper) calc(var(--share) * 100%),
    transparent calc(var(--share) * 100%)
  );
  color: var(--dark-ink);
  font-size: 17px;
  font-weight: 700;
  cursor: pointer;
  touch-action: none;
  user-select: none;
}
.hold:disabled {
  border-color: var(--dark-line);
  color: var(--dark-soft);
  cursor: not-allowed;
}
.hold:focus-visible {
  outline: 3px solid var(--dark-copper-light);
}
</style>
