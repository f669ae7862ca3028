<script setup lang="ts">
/** Answers that are not on record yet: the server is away, somebody else wrote, or it refused. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import MergeView from '@/merging/MergeView.vue'
import type { Waiting } from './outbox'

const props = defineProps<{
  waiting: Waiting[]
  attributes: Schemas['Attribute'][]
}>()
const emit = defineEmits<{
  settle: [item: Waiting, values: Record<string, unknown>, version: number]
  drop: [item: Waiting]
}>()

const away = computed(() => props.waiting.filter((item) => !item.current && !item.refused))
const label = (key: string) => props.attributes.find((a) => a.key === key)?.label ?? key
const FIELDS = ['status', 'choice', 'value', 'u', 'ordinal', 'instrument', 'note', 'reference']

function fields(source: object): Record<string, unknown> {
  const known = source as Record<string, unknown>
  return Object.fromEntries(FIELDS.map((field) => [field, known[field] ?? emptyOf(field)]))
}
const emptyOf = (field: string) => (['value', 'u', 'reference'].includes(field) ? null : '')
</script>

<template>
  <p v-if="away.length" class="away" role="status">
    {{ away.length }} {{ away.length === 1 ? 'answer waits' : 'answers wait' }} here for the server:
    {{ away.map((item) => label(item.answer.attribute)).join(', ') }}. Nothing is lost; go on.
  </p>
  <template v-for="item in waiting" :key="item.answer.attribute">
    <p v-if="item.refused" class="away refused" role="alert">
      {{ label(item.answer.attribute) }} was not taken: {{ item.refused }}
      <el-button size="small" @click="emit('drop', item)">Drop it</el-button>
    </p>
    <template v-else-if="item.current">
      <h3 class="which">{{ label(item.answer.attribute) }}</h3>
      <MergeView
        :base="fields(item.base)"
        :mine="fields(item.answer)"
        :current="item.current"
        @settle="(values, version) => emit('settle', item, values, version)"
        @drop="emit('drop', item)"
      />
    </template>
  </template>
</template>

<style scoped>
.away {
  background: var(--caution-soft);
  border-left: 4px solid var(--caution);
  padding: 6px 12px;
  margin: 8px 0;
}
.refused {
  background: var(--stop-soft);
  border-color: var(--stop);
}
.which {
  margin-top: 10px;
}
</style>
