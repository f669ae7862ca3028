<script setup lang="ts">
/** A known mass at the start of the day: ten seconds, and its history shows whether the stand moved. */
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import { lastDigit } from '@/features/intake/typed'
import { numberFault, numberOf } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import DriftChart from './DriftChart.vue'

const props = defineProps<{ stand: Schemas['StandSheet'] }>()
const { mayWrite } = useSession()
/** The mass is the same every day, and so is the step of the scale. */
const mass = useLocalStorage(`spindle.check-mass-${props.stand.id}`, '')
const reading = ref('')
const readingStep = ref<number | null>(null)
const field = ref<{ focus: () => void } | null>(null)
const live = computed(() => props.stand.checks.filter((check) => !check.struck_reason))
const last = computed(() => live.value.at(-1) ?? null)

const noting = useWrite('stand', async (body: Schemas['MassCheckRequest']) =>
  dataOf(
    await api.POST('/api/v1/stands/{id}/checks/', {
      params: { path: { id: props.stand.id } },
      body,
    }),
  ),
)
const striking = useWrite('stand', (check: Schemas['MassCheck']) =>
  api.PATCH('/api/v1/mass-checks/{id}/', {
    params: { path: { id: check.id } },
    body: { struck_reason: 'a mistake', version: check.version },
  }),
)
const { problem, busy } = noting
const ready = computed(
  () =>
    Boolean(mass.value.trim() && reading.value.trim()) &&
    !numberFault(mass.value) &&
    !numberFault(reading.value),
)
async function note() {
  if (!ready.value) return
  const sent = await noting.send({
    mass_g: numberOf(mass.value),
    reading_g: numberOf(reading.value),
    step_g: readingStep.value ?? lastDigit(reading.value),
  })
  if (!sent) return
  reading.value = ''
  await nextTick()
  field.value?.focus()
}
</script>

<template>
  <h2>Check mass</h2>
  <p class="soft small">
    Motor still, prop off. Put the mass where thrust pulls, read the scale, take it off again.
  </p>
  <el-form v-if="mayWrite" class="line" @submit.prevent="note">
    <NumberField v-model="mass" label="Mass" unit="g" :problem="fieldMessage(problem, 'mass_g')" />
    <NumberField
      ref="field"
      v-model="reading"
      v-model:step="readingStep"
      label="The scale shows"
      unit="g"
      width="usual"
      :problem="fieldMessage(problem, 'reading_g')"
    />
    <el-button type="primary" native-type="submit" :disabled="!ready" :loading="busy"
      >Note it</el-button
    >
  </el-form>
  <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
  <p v-if="last" :class="last.moved ? 'doubt' : 'fine'" role="status">
    {{ last.sentence }}
    <el-button
      v-if="mayWrite"
      link
      size="small"
      :loading="striking.busy.value"
      @click="striking.send(last)"
      >Strike it out</el-button
    >
  </p>
  <p v-else class="soft">Never checked. Any mass whose grams you know will do.</p>
  <DriftChart v-if="live.length > 1" :checks="live" />
</template>

<style scoped src="./rig.css"></style>
