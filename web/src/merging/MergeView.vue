<script setup lang="ts">
/** Somebody else wrote first: both versions field by field, and what is to stand. */
import { computed, ref, watch } from 'vue'
import type { Current } from '@/api/client'
import { merged, type MergeRow, mergeRows, shown, type Values } from './merge'

const props = defineProps<{
  base: Values
  mine: Values
  current: Current
  labels?: Record<string, string>
}>()
const emit = defineEmits<{ settle: [values: Values, version: number]; drop: [] }>()

const rows = ref<MergeRow[]>([])
watch(
  () => props.current,
  (current) => {
    rows.value = mergeRows(props.base, props.mine, current)
  },
  { immediate: true },
)
const open = computed(() => rows.value.filter((row) => row.choice === null).length)
const result = computed(() => merged(rows.value, props.mine))
const label = (field: string) =>
  props.labels?.[field] ?? field.replaceAll('_', ' ').replace(/ (mm|g|v|a|w)$/, '')

function settle() {
  if (result.value) emit('settle', result.value, props.current.version)
}
</script>

<template>
  <section class="merge" role="alertdialog" aria-label="Two versions">
    <h3>{{ current.who }} changed this while you were writing</h3>
    <p class="soft small">Nothing of yours is lost. Choose what is to stand, field by field.</p>
    <table class="grid">
      <thead>
        <tr>
          <th>Field</th>
          <th>Before</th>
          <th>Yours</th>
          <th>By {{ current.who }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.field" :class="{ open: row.choice === null }">
          <td>{{ label(row.field) }}</td>
          <td class="soft">{{ shown(row.base) }}</td>
          <td v-for="side in ['mine', 'theirs'] as const" :key="side">
            <el-radio
              :model-value="row.choice ?? undefined"
              :name="`merge-${row.field}`"
              :value="side"
              @update:model-value="row.choice = side"
              >{{ shown(row[side]) }}</el-radio
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p class="acts">
      <el-button type="primary" :disabled="!result" @click="settle">Keep these</el-button>
      <el-button @click="emit('drop')">Drop mine</el-button>
      <span v-if="open" class="soft small">{{ open }} to choose</span>
    </p>
  </section>
</template>

<style scoped>
.merge {
  border: 2px solid var(--caution);
  border-radius: 4px;
  background: var(--caution-soft);
  padding: 10px 14px;
  margin: 10px 0;
}
.merge :deep(.el-radio) {
  height: auto;
  min-height: 24px;
  white-space: normal;
  overflow-wrap: anywhere;
}
.open td:first-child {
  font-weight: 700;
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 10px 0 0;
}
</style>
