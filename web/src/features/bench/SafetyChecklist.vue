<script setup lang="ts">
/** The look around before arming. It asks; it does not make a run safe. */
import type { CheckItem } from './setup'

defineProps<{
  items: CheckItem[]
  /** Why it asks that much. */
  why?: string
  /** The server is asked how much of it is needed. */
  busy?: boolean
  disabled: boolean
}>()
const confirmed = defineModel<Set<string>>({ required: true })

function toggle(key: string, on: boolean) {
  const next = new Set(confirmed.value)
  if (on) next.add(key)
  else next.delete(key)
  confirmed.value = next
}
</script>

<template>
  <fieldset class="checklist on-dark" :disabled="disabled" :aria-busy="busy ?? false">
    <legend>Before you arm</legend>
    <p v-if="why" class="why">{{ why }}</p>
    <el-checkbox
      v-for="item in items"
      :key="item.key"
      :class="{ chosen: item.key.startsWith('off_') }"
      :disabled="disabled"
      :model-value="confirmed.has(item.key)"
      @update:model-value="(on: unknown) => toggle(item.key, Boolean(on))"
      >{{ item.text }}</el-checkbox
    >
    <p>
      Stop at smell, smoke or noise. A hot motor burns. The maker's instructions, local codes and
      licensed practice come first; this list does not make a run safe.
    </p>
  </fieldset>
</template>

<style scoped>
.checklist {
  border: 1px solid var(--dark-line);
  border-left: 4px solid var(--dark-caution-line);
  border-radius: 4px;
  padding: 6px 14px 10px;
  margin: 10px 0;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 3px 18px;
}
legend {
  font-weight: 700;
  color: var(--dark-caution);
  padding: 0 6px;
}
.checklist :deep(.el-checkbox) {
  --el-checkbox-font-size: 13.5px;
  --el-checkbox-input-height: 18px;
  --el-checkbox-input-width: 18px;
  height: auto;
  min-height: 28px;
  margin: 0;
  white-space: normal;
}
.chosen {
  --el-checkbox-text-color: var(--dark-caution);
  font-weight: 700;
}
p {
  grid-column: 1 / -1;
  margin: 4px 0 0;
  font-size: 12.5px;
  color: var(--dark-soft);
}
</style>
