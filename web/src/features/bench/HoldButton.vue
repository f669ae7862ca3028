<script setup lang="ts">
/** Arms only while it is held: by pointer, or by Enter. Letting go early does nothing. */
import { onUnmounted, ref } from 'vue'

const props = withDefaults(defineProps<{ disabled: boolean; seconds?: number }>(), { seconds: 1.2 })
const emit = defineEmits<{ held: [] }>()
const share = ref(0)
let began = 0
let frame = 0

function step() {
  share.value = Math.min(1, (performance.now() - began) / (1000 * props.seconds))
  if (share.value >= 1) {
    release()
    emit('held')
  } else frame = requestAnimationFrame(step)
}

function press() {
  if (props.disabled || frame) return
  began = performance.now()
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
