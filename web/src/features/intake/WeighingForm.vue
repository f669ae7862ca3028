<script setup lang="ts">
/** One more reading of the scale; its last digit is read off what was typed. */
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { readNumber } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { entered } from '@/figures/entryUnits'
import { lastDigit, massFault, optional } from './typed'

const props = defineProps<{ sample: number }>()
const EMPTY = {
  mass: '',
  typed: '',
  step: null as number | null,
  leads: '',
  nut: false,
  connectors: false,
  note: '',
}
const draft = useLocalStorage(`spindle.weighing-${props.sample}`, { ...EMPTY })
const instrument = useLocalStorage('spindle.scale', 'pocket scale')
const tried = ref(false)
const massField = ref<{ focus: () => void } | null>(null)

/** Still in ounces: turned into grams when the field is left. */
const inAnotherUnit = computed(() => entered(draft.value.mass, 'g') !== null)
const fault = computed(() =>
  (draft.value.mass || tried.value) && !inAnotherUnit.value ? massFault(draft.value.mass) : '',
)
const step = computed(() => draft.value.step ?? lastDigit(draft.value.mass))
const leadFault = computed(() => {
  if (entered(draft.value.leads, 'mm')) return ''
  const value = optional(draft.value.leads)
  if (value === undefined) return 'A length in mm, or leave it empty.'
  return value !== null && value > 600 ? 'Leads of more than 600 mm? Write millimetres.' : ''
})

const weighing = useWrite('sample', (body: Schemas['WeighingRequest']) =>
  api.POST('/api/v1/samples/{id}/weighings/', { params: { path: { id: props.sample } }, body }),
)
const { problem, busy } = weighing

async function add() {
  tried.value = true
  if (fault.value || leadFault.value) {
    massField.value?.focus()
    return
  }
  const sent = await weighing.send({
    mass_g: readNumber(draft.value.mass) ?? Number.NaN,
    resolution_g: step.value,
    typed: draft.value.typed,
    lead_length_mm: optional(draft.value.leads) ?? null,
    nut_on: draft.value.nut,
    connectors_on: draft.value.connectors,
    instrument: instrument.value,
    note: draft.value.note,
  })
  if (!sent) return
  draft.value = { ...EMPTY }
  tried.value = false
  await nextTick()
  massField.value?.focus()
}
</script>

<template>
  <el-form class="line" @submit.prevent="add">
    <NumberField
      id="w-mass"
      ref="massField"
      v-model="draft.mass"
      v-model:typed="draft.typed"
      v-model:step="draft.step"
      label="Mass"
      unit="g"
      :problem="fault || fieldMessage(problem, 'mass_g')"
    />
    <NumberField id="w-leads" v-model="draft.leads" label="Leads" unit="mm" :problem="leadFault" />
    <el-checkbox v-model="draft.nut">nut on</el-checkbox>
    <el-checkbox v-model="draft.connectors">connectors on</el-checkbox>
    <TextField id="w-scale" v-model="instrument" label="Scale" />
    <TextField id="w-note" v-model="draft.note" label="Note" width="wide" />
    <el-button type="primary" native-type="submit" :loading="busy">Note the weighing</el-button>
  </el-form>
  <p v-if="problem && !fieldMessage(problem, 'mass_g')" class="field-problem" role="alert">
    {{ sentenceOf(problem) }}
  </p>
  <p v-if="draft.mass && !fault && !inAnotherUnit" class="soft small">
    Read to {{ Number(step.toPrecision(3)) }} g: u {{ (step / Math.sqrt(12)).toPrecision(2) }} g.
  </p>
</template>

<style scoped src="./intake.css"></style>
