<script setup lang="ts">
/** Which of our motors one of theirs is, and which of its samples is the very same thing. */
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { motorQuery } from '@/api/queries'
import ChoiceField from '@/forms/ChoiceField.vue'
import MotorField from '@/forms/MotorField.vue'
import { type SaidMotor } from './ours'

const props = defineProps<{
  motor: { key: string; full_name: string; samples: readonly string[] }
  runs?: number
  mayBegin?: boolean
  problem?: string
}>()
const said = defineModel<SaidMotor>({ required: true })
const { data: own } = useQuery(computed(() => motorQuery(said.value.ours)))
const ours = computed({
  get: () => said.value.ours,
  set: (id) => (said.value = { ours: id, begin: false, samples: {} }),
})
const begin = computed({
  get: () => said.value.begin,
  set: (on) => (said.value = { ours: null, begin: on, samples: {} }),
})
const choices = computed(() => [
  { key: 0, label: 'another sample' },
  ...(own.value?.samples ?? []).map((one) => ({ key: one.id, label: `our sample ${one.mark}` })),
])
const label = computed(
  () =>
    `Their ${props.motor.full_name}` +
    (props.runs === undefined ? '' : ` (${props.runs} ${props.runs === 1 ? 'run' : 'runs'})`),
)
// A sample that is no longer one of the motor is none.
watch(own, (motor) => {
  if (!motor) return
  const known = new Set(motor.samples.map((one) => one.id))
  const kept = Object.entries(said.value.samples).filter(([, id]) => known.has(id))
  if (kept.length < Object.keys(said.value.samples).length)
    said.value = { ...said.value, samples: Object.fromEntries(kept) }
})
const pick = (mark: string, id: number | null) => {
  const others = Object.entries(said.value.samples).filter(([one]) => one !== mark)
  said.value = { ...said.value, samples: Object.fromEntries(id ? [...others, [mark, id]] : others) }
}
</script>

<template>
  <div class="motor">
    <MotorField v-model="ours" :label="`${label} is our`" :problem="problem" width="wide" />
    <el-checkbox v-if="mayBegin && ours === null" v-model="begin" class="begin"
      >Begin a file for it, without samples</el-checkbox
    >
    <ChoiceField
      v-for="mark in ours === null ? [] : motor.samples"
      :key="mark"
      :model-value="said.samples[mark] ?? 0"
      :label="`Their sample ${mark} is`"
      :choices="choices"
      @update:model-value="pick(mark, $event)"
    />
  </div>
</template>

<style scoped>
.motor {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  align-items: flex-end;
  max-width: 900px;
  padding: 6px 0;
}
.begin {
  flex: 1 1 100%;
}
</style>
