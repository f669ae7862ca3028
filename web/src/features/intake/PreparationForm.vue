<script setup lang="ts">
/** Something irreversible that was done to a sample, with its date. */
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import DayField from '@/forms/DayField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { optional } from './typed'
import { choices } from '@/words/words'

const props = defineProps<{ sample: number }>()
const EMPTY = { kind: 'leads_cut', leads: '', on: '', note: '' }
const draft = useLocalStorage(`spindle.preparation-${props.sample}`, { ...EMPTY })
const fault = ref('')

const preparing = useWrite('sample', (body: Schemas['PreparationRequest']) =>
  api.POST('/api/v1/samples/{id}/preparations/', { params: { path: { id: props.sample } }, body }),
)
const { problem, busy } = preparing

async function add() {
  const length = optional(draft.value.leads)
  fault.value = length === undefined ? 'A length in mm, or leave it empty.' : ''
  if (length === null && draft.value.kind === 'leads_cut')
    fault.value = 'How long are the leads now, in mm?'
  if (fault.value) return
  const sent = await preparing.send({
    kind: draft.value.kind as Schemas['PreparationKindEnum'],
    lead_length_mm: length,
    note: draft.value.note,
    ...(draft.value.on ? { done_on: draft.value.on } : {}),
  })
  if (sent) draft.value = { ...EMPTY }
}
</script>

<template>
  <el-form class="line" @submit.prevent="add">
    <ChoiceField
      id="p-kind"
      v-model="draft.kind"
      label="What was done"
      :choices="choices('preparation')"
    />
    <NumberField id="p-leads" v-model="draft.leads" label="Leads now" unit="mm" :problem="fault" />
    <DayField id="p-on" v-model="draft.on" label="On" placeholder="today" />
    <TextField id="p-note" v-model="draft.note" label="Note" width="wide" />
    <el-button native-type="submit" :loading="busy">Note what was done</el-button>
  </el-form>
  <p v-if="problem" class="field-problem" role="alert">
    {{ fieldMessage(problem, 'lead_length_mm') || sentenceOf(problem) }}
  </p>
</template>

<style scoped src="./intake.css"></style>
