<script setup lang="ts">
/** One thing that was used. Where it has a link, it says whether that pays. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { localDay } from '@/figures/format'

type Part = Required<Schemas['UsedPart']>
const props = defineProps<{ part: Part; mayWrite: boolean }>()
const emit = defineEmits<{ change: [values: Partial<Part>]; off: [] }>()
const WHATS = {
  motor: 'Motor',
  propeller: 'Propeller',
  adapter: 'Adapter',
  esc: 'ESC',
  supply: 'Supply',
  stand: 'Stand',
  other: 'Other',
} as const
const PAYS = [
  { key: 'unknown', label: 'not said yet' },
  { key: 'no', label: 'pays nobody' },
  { key: 'yes', label: 'pays us' },
]
const said = computed(() => (props.part.pays === null ? 'unknown' : props.part.pays ? 'yes' : 'no'))
const words = computed(() => PAYS.find((one) => one.key === said.value)?.label ?? '')
const sayPays = (word: string) =>
  emit('change', { pays: word === 'unknown' ? null : word === 'yes' })
/** A link is as old as the day it was first noted. */
function sayLink(text: string) {
  emit('change', { link: text, noted_on: props.part.noted_on ?? (text ? localDay() : null) })
}
</script>

<template>
  <tr>
    <td>{{ WHATS[part.what] }}</td>
    <td>{{ part.name }}</td>
    <td>
      <el-input
        v-if="mayWrite"
        size="small"
        maxlength="300"
        placeholder="https://…"
        :model-value="part.link"
        :aria-label="`Link to ${part.name}`"
        @update:model-value="sayLink"
      />
      <span v-else>{{ part.link || '—' }}</span>
    </td>
    <td>
      <template v-if="part.link">
        <el-select
          v-if="mayWrite"
          size="small"
          filterable
          class="pays"
          :model-value="said"
          :aria-label="`Whether the link to ${part.name} pays`"
          @update:model-value="sayPays"
        >
          <el-option v-for="one in PAYS" :key="one.key" :value="one.key" :label="one.label" />
        </el-select>
        <span v-else>{{ words }}</span>
      </template>
    </td>
    <td class="num soft">{{ part.noted_on ?? '' }}</td>
    <td>
      <el-button
        v-if="mayWrite"
        size="small"
        text
        :aria-label="`Take off: ${part.name}`"
        @click="emit('off')"
        >Take off</el-button
      >
    </td>
  </tr>
</template>

<style scoped>
.pays {
  width: 130px;
}
</style>
