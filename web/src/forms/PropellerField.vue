<script setup lang="ts">
/** A propeller, found by the server in the library. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, useId } from 'vue'
import { propellerQuery, propellerSearchQuery } from '@/api/rigQueries'
import FieldRow from './FieldRow.vue'

defineProps<{
  label: string
  disabled?: boolean
  id?: string
  problem?: string
  width?: 'narrow' | 'usual' | 'wide'
}>()
const chosen = defineModel<number | null>({ required: true })
const own = useId()
const words = ref('')
const sought = refDebounced(words, 200)
const { data: found, isFetching } = useQuery(computed(() => propellerSearchQuery(sought.value)))
const { data: its } = useQuery(computed(() => propellerQuery(chosen.value)))
const offered = computed(() => {
  const rows = found.value ?? []
  return its.value && !rows.some((row) => row.id === its.value?.id) ? [its.value, ...rows] : rows
})
</script>

<template>
  <FieldRow :for="id ?? own" :label="label" :problem="problem" :width="width">
    <el-select
      :id="id ?? own"
      v-model="chosen"
      filterable
      remote
      remote-show-suffix
      default-first-option
      :empty-values="[undefined, null]"
      :remote-method="(typed: string) => (words = typed)"
      :loading="isFetching && !offered.length"
      :disabled="disabled"
      no-match-text="No propeller fits"
      no-data-text="No propeller fits"
      placeholder="maker or 5.1x4.2x3"
    >
      <el-option v-for="one in offered" :key="one.id" :value="one.id" :label="one.full_name" />
    </el-select>
  </FieldRow>
</template>
