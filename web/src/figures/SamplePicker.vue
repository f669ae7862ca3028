<script setup lang="ts">
/** Which sample of a motor is meant: its marks as large keys. */
defineProps<{ samples: { id: number; mark: string }[]; chosen: number }>()
const emit = defineEmits<{ choose: [id: number] }>()
</script>

<template>
  <div class="samples" role="group" aria-label="Sample">
    <button
      v-for="sample in samples"
      :key="sample.id"
      type="button"
      :aria-pressed="sample.id === chosen"
      @click="emit('choose', sample.id)"
    >
      {{ sample.mark }}
    </button>
  </div>
</template>

<style scoped>
button {
  min-width: 40px;
  min-height: 36px;
  margin-left: 6px;
  padding: 4px 12px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--sheet);
  cursor: pointer;
}
button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--on-ink);
}
</style>
