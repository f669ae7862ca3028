<script setup lang="ts">
/** The sample that answers can refer to: of this motor, its family, or found on the bench. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { motorOfSampleQuery, motorSearchQuery } from '@/api/queries'
import { GROUPS, type ReferenceChoice, referencesFor } from './references'

const props = defineProps<{ motor: Schemas['Motor']; sample: number }>()
const chosen = defineModel<ReferenceChoice | null>({ required: true })
const words = ref('')
const sought = refDebounced(words, 200)
const { data: family } = useQuery(
  computed(() => motorSearchQuery(`${props.motor.maker} ${props.motor.name}`, 1)),
)
const { data: found } = useQuery(computed(() => motorSearchQuery(sought.value, 1)))
const { data: its } = useQuery(computed(() => motorOfSampleQuery(chosen.value?.id ?? null)))

const offered = computed(() => {
  const rows = [...(its.value ? [its.value] : []), ...(family.value?.results ?? [])]
  return referencesFor([...rows, ...(found.value?.results ?? [])], props.motor, props.sample)
})
const choose = (id: number) =>
  (chosen.value = offered.value.find((choice) => choice.id === id) ?? null)

// The nearest is proposed until somebody chooses; one that cannot be is dropped.
watch(
  [offered, () => props.sample],
  () => {
    const stands = offered.value.find((choice) => choice.id === chosen.value?.id)
    const next = stands ?? offered.value[0] ?? null
    if (next?.id !== chosen.value?.id || next?.group !== chosen.value?.group) chosen.value = next
  },
  { immediate: true },
)
</script>

<template>
  <label v-if="offered.length" class="beside"
    >beside
    <el-select
      :model-value="chosen?.id"
      filterable
      remote
      remote-show-suffix
      default-first-option
      :remote-method="(typed: string) => (words = typed)"
      persistent
      aria-label="Reference sample"
      class="reference"
      @update:model-value="choose"
    >
      <el-option-group
        v-for="group in GROUPS.filter((one) => offered.some((choice) => choice.group === one))"
        :key="group"
        :label="group"
      >
        <el-option
          v-for="choice in offered.filter((one) => one.group === group)"
          :key="choice.id"
          :value="choice.id"
          :label="choice.name"
        />
      </el-option-group>
    </el-select>
  </label>
</template>

<style scoped>
.beside {
  display: flex;
  gap: 6px;
  align-items: center;
}
.reference {
  width: 220px;
}
</style>
