<script setup lang="ts">
/** What one big key does next: start what is armed, or reset what has faulted. */
import { ref } from 'vue'
import type { Frame } from '@/live/useBench'

defineProps<{ frame: Frame | null; busy: boolean; mayStart: boolean }>()
const emit = defineEmits<{ start: []; reset: [] }>()
const startButton = ref<HTMLButtonElement | null>(null)
defineExpose({ focus: () => startButton.value?.focus() })

/** Enter that is still held from arming must not start the run: a start is a new press. */
function onStartKey(event: KeyboardEvent) {
  if (event.repeat) event.preventDefault()
}
</script>

<template>
  <div class="act">
    <template v-if="frame?.state === 'armed'">
      <button
        ref="startButton"
        type="button"
        class="start"
        :disabled="busy || !mayStart"
        @keydown.enter="onStartKey"
        @click="emit('start')"
      >
        Start the profile <small>Enter</small>
      </button>
      <p v-if="mayStart" class="soft">
        Armed. Space or Esc disarms; the stand disarms itself after 90 s.
      </p>
      <p v-else class="soft">
        {{ frame?.operator || 'Somebody else' }} armed this run and starts it. Space or Esc disarms.
      </p>
    </template>
    <button v-else type="button" class="start" :disabled="busy" @click="emit('reset')">
      The prop is still: reset
    </button>
  </div>
</template>

<style scoped>
.act {
  margin-top: 10px;
}
.start {
  width: 100%;
  min-height: 64px;
  font-size: 20px;
  font-weight: 700;
  border: 0;
  border-radius: 5px;
  background: var(--dark-copper);
  color: var(--dark);
  cursor: pointer;
}
.start small {
  font-weight: 400;
  font-size: 13px;
}
.soft {
  color: var(--dark-soft);
  margin-top: 8px;
}
</style>
