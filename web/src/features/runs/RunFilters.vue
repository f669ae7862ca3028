<script setup lang="ts">
/** Which runs: words, kind, state, motor, propeller, supply and day, all asked of the server. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { motorSearchQuery } from '@/api/queries'
import { propellerSearchQuery, suppliesQuery } from '@/api/rigQueries'
import { choices, words } from '@/words/words'

export interface RunFilters {
  kind?: string
  state?: string
  motor?: number
  propeller?: number
  supply?: number
  day?: string
}
defineProps<{ narrowed: boolean }>()
const emit = defineEmits<{ widen: [] }>()
const filters = defineModel<RunFilters>({ required: true })
const search = defineModel<string>('search', { required: true })
const { data: supplies } = useQuery(suppliesQuery())
const motorWords = ref('')
const { data: motors, isFetching: searching } = useQuery(
  computed(() => motorSearchQuery(motorWords.value, 1)),
)
const propellerWords = ref('')
const { data: propellers, isFetching: seeking } = useQuery(
  computed(() => propellerSearchQuery(propellerWords.value)),
)
const states = [
  { key: 'waiting', label: 'Not reviewed' },
  ...choices('review'),
  { key: 'recording', label: 'Recording' },
  ...choices('outcome'),
]
</script>

<template>
  <el-form class="filters" aria-label="Which runs" @submit.prevent>
    <el-input
      v-model="search"
      class="find"
      clearable
      placeholder="Motor, prop, supply, kV"
      aria-label="Find runs"
    />
    <el-select v-model="filters.kind" clearable placeholder="Any kind" aria-label="Kind of run">
      <el-option
        v-for="kind in words().run_kinds"
        :key="kind.key"
        :value="kind.key"
        :label="kind.label"
      />
    </el-select>
    <el-select v-model="filters.state" clearable placeholder="Any state" aria-label="State">
      <el-option v-for="one in states" :key="one.key" :value="one.key" :label="one.label" />
    </el-select>
    <el-select
      v-model="filters.motor"
      clearable
      filterable
      remote
      :remote-method="(typed: string) => (motorWords = typed)"
      :loading="searching"
      placeholder="Any motor"
      aria-label="Motor"
    >
      <el-option
        v-for="motor in motors?.results"
        :key="motor.id"
        :value="motor.id"
        :label="motor.full_name"
      />
    </el-select>
    <el-select
      v-model="filters.propeller"
      clearable
      filterable
      remote
      :remote-method="(typed: string) => (propellerWords = typed)"
      :loading="seeking"
      placeholder="Any propeller"
      aria-label="Propeller"
    >
      <el-option
        v-for="propeller in propellers"
        :key="propeller.id"
        :value="propeller.id"
        :label="propeller.full_name"
      />
    </el-select>
    <el-select
      v-model="filters.supply"
      clearable
      filterable
      placeholder="Any supply"
      aria-label="Supply"
    >
      <el-option v-for="one in supplies" :key="one.id" :value="one.id" :label="one.name" />
    </el-select>
    <el-date-picker
      v-model="filters.day"
      type="date"
      value-format="YYYY-MM-DD"
      format="YYYY-MM-DD"
      placeholder="Any day"
      aria-label="Day"
    />
    <el-button v-if="narrowed" @click="emit('widen')">Show all</el-button>
  </el-form>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 12px;
}
.filters > * {
  flex: 0 1 150px;
  min-width: 120px;
}
.filters .find {
  flex: 1 1 210px;
}
.filters :deep(.el-date-editor) {
  flex: 0 1 140px;
  width: 140px;
}
</style>
