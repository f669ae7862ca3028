<script setup lang="ts">
/** A motor's sample, found by the server among all there are. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, useId } from 'vue'
import type { Schemas } from '@/api/client'
import { motorOfSampleQuery, motorSearchQuery } from '@/api/queries'
import FieldRow from './FieldRow.vue'

const props = defineProps<{
  label: string
  disabled?: boolean
  id?: string
  problem?: string
  width?: 'narrow' | 'usual' | 'wide'
  /** A sample that stands there already and is not offered. */
  without?: readonly number[]
}>()
const emit = defineEmits<{ motor: [id: number] }>()
const chosen = defineModel<number | null>({ required: true })
const own = useId()
const words = ref('')
const sought = refDebounced(words, 200)
const { data: found, isFetching } = useQuery(computed(() => motorSearchQuery(sought.value, 1)))
const { data: its } = useQuery(computed(() => motorOfSampleQuery(chosen.value)))

interface Offered {
  id: number
  name: string
  motor: Schemas['Motor']
}
const offered = computed<Offered[]>(() => {
  const motors = found.value?.results ?? []
  const own = its.value && !motors.some((motor) => motor.id === its.value?.id) ? [its.value] : []
  return [...own, ...motors].flatMap((motor) =>
    motor.samples
      .filter((sample) => !props.without?.includes(sample.id))
      .map((sample) => ({ id: sample.id, name: `${motor.full_name} · ${sample.mark}`, motor })),
  )
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
      no-match-text="No motor fits"
      no-data-text="No motor fits"
      placeholder="maker, name, size or kV"
      @change="(id: number) => emit('motor', offered.find((one) => one.id === id)!.motor.id)"
    >
      <el-option v-for="one in offered" :key="one.id" :value="one.id" :label="one.name" />
    </el-select>
  </FieldRow>
</template>
