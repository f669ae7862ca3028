<script setup lang="ts">
/** A motor model, found by the server on the bench. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, useId } from 'vue'
import { motorQuery, motorSearchQuery } from '@/api/queries'
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
const { data: found, isFetching } = useQuery(computed(() => motorSearchQuery(sought.value, 1)))
const { data: its } = useQuery(computed(() => motorQuery(chosen.value)))
const offered = computed(() => {
  const rows = (found.value?.results ?? []).map((row) => ({ id: row.id, label: row.full_name }))
  const mine = its.value
  return mine && !rows.some((row) => row.id === mine.id)
    ? [{ id: mine.id, label: mine.full_name }, ...rows]
    : rows
})
</script>

<template>
  <FieldRow :for="id ?? own" :label="label" :problem="problem" :width="width">
    <el-select
      :id="id ?? own"
      v-model="chosen"
      filterable
      remote
      clearable
      remote-show-suffix
      default-first-option
      :empty-values="[undefined, null]"
      :value-on-clear="null"
      :remote-method="(typed: string) => (words = typed)"
      :loading="isFetching && !offered.length"
      :disabled="disabled"
      no-match-text="No motor fits"
      no-data-text="No motor fits"
      placeholder="maker, name or size"
    >
      <el-option v-for="one in offered" :key="one.id" :value="one.id" :label="one.label" />
    </el-select>
  </FieldRow>
</template>
