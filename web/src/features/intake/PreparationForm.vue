<script setup lang="ts">
/** Something irreversible that was done to a sample, with its date. */
import { useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { optional } from './typed'
import { choices } from '@/words/words'

const props = defineProps<{ sample: number }>()
const client = useQueryClient()
const EMPTY = { kind: 'leads_cut', leads: '', on: '', note: '' }
const draft = useLocalStorage(`spindle.preparation-${props.sample}`, { ...EMPTY })
const problem = ref<unknown>(null)
const fault = ref('')

async function add() {
  problem.value = null
  const length = optional(draft.value.leads)
  fault.value = length === undefined ? 'A length in mm, or leave it empty.' : ''
  if (length === null && draft.value.kind === 'leads_cut')
    fault.value = 'How long are the leads now, in mm?'
  if (fault.value) return
  try {
    await api.POST('/api/v1/samples/{id}/preparations/', {
      params: { path: { id: props.sample } },
      body: {
        kind: draft.value.kind as Schemas['PreparationKindEnum'],
        lead_length_mm: length,
        note: draft.value.note,
        ...(draft.value.on ? { done_on: draft.value.on } : {}),
      },
    })
    draft.value = { ...EMPTY }
    await refreshRecord(client)
  } catch (failure) {
    problem.value = failure
  }
}
</script>

<template>
  <form class="line" @submit.prevent="add">
    <div>
      <label for="p-kind">What was done</label>
      <select id="p-kind" v-model="draft.kind">
        <option v-for="one in choices('preparation')" :key="one.key" :value="one.key">
          {{ one.label }}
        </option>
      </select>
    </div>
    <div class="narrow">
      <label for="p-leads">Leads now <span class="soft">(mm)</span></label>
      <input id="p-leads" v-model="draft.leads" class="num" inputmode="decimal" />
    </div>
    <div>
      <label for="p-on">On <span class="soft">(today if empty)</span></label>
      <input id="p-on" v-model="draft.on" type="date" />
    </div>
    <div class="wide">
      <label for="p-note">Note</label>
      <input id="p-note" v-model="draft.note" />
    </div>
    <el-button native-type="submit">Note what was done</el-button>
  </form>
  <p v-if="fault || problem" class="field-problem" role="alert">
    {{ fault || fieldMessage(problem, 'lead_length_mm') || sentenceOf(problem) }}
  </p>
</template>

<style scoped src="./intake.css"></style>
