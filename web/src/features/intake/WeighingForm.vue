<script setup lang="ts">
/** One more reading of the scale; its last digit is read off what was typed. */
import { useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { api, fieldMessage, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { readNumber } from '@/figures/readNumber'
import { lastDigit, massFault, optional } from './typed'

const props = defineProps<{ sample: number }>()
const client = useQueryClient()
const EMPTY = { mass: '', leads: '', nut: false, connectors: false, note: '' }
const draft = useLocalStorage(`spindle.weighing-${props.sample}`, { ...EMPTY })
const instrument = useLocalStorage('spindle.scale', 'pocket scale')
const problem = ref<unknown>(null)
const tried = ref(false)
const busy = ref(false)
const massField = ref<HTMLInputElement | null>(null)

const fault = computed(() => (draft.value.mass || tried.value ? massFault(draft.value.mass) : ''))
const leadFault = computed(() => {
  const value = optional(draft.value.leads)
  if (value === undefined) return 'A length in mm, or leave it empty.'
  return value !== null && value > 600 ? 'Leads of more than 600 mm? Write millimetres.' : ''
})

async function add() {
  tried.value = true
  problem.value = null
  if (fault.value || leadFault.value) {
    massField.value?.focus()
    return
  }
  busy.value = true
  try {
    await api.POST('/api/v1/samples/{id}/weighings/', {
      params: { path: { id: props.sample } },
      body: {
        mass_g: readNumber(draft.value.mass) ?? 0,
        resolution_g: lastDigit(draft.value.mass),
        lead_length_mm: optional(draft.value.leads) ?? null,
        nut_on: draft.value.nut,
        connectors_on: draft.value.connectors,
        instrument: instrument.value,
        note: draft.value.note,
      },
    })
    draft.value = { ...EMPTY }
    tried.value = false
    await refreshRecord(client)
    await nextTick()
    massField.value?.focus()
  } catch (failure) {
    problem.value = failure
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="line" @submit.prevent="add">
    <div class="narrow">
      <label for="w-mass">Mass <span class="soft">(g)</span></label>
      <input
        id="w-mass"
        ref="massField"
        v-model="draft.mass"
        class="num"
        inputmode="decimal"
        autocomplete="off"
        aria-describedby="w-fault"
      />
    </div>
    <div class="narrow">
      <label for="w-leads">Leads <span class="soft">(mm)</span></label>
      <input
        id="w-leads"
        v-model="draft.leads"
        class="num"
        inputmode="decimal"
        autocomplete="off"
        aria-describedby="w-fault"
      />
    </div>
    <label class="check"><input v-model="draft.nut" type="checkbox" /> nut on</label>
    <label class="check"><input v-model="draft.connectors" type="checkbox" /> connectors on</label>
    <div>
      <label for="w-scale">Scale</label>
      <input id="w-scale" v-model="instrument" />
    </div>
    <div class="wide">
      <label for="w-note">Note</label>
      <input id="w-note" v-model="draft.note" />
    </div>
    <el-button type="primary" native-type="submit" :loading="busy">Note the weighing</el-button>
  </form>
  <p id="w-fault" class="field-problem" role="alert">
    {{
      fault || leadFault || fieldMessage(problem, 'mass_g') || (problem ? sentenceOf(problem) : '')
    }}
  </p>
  <p v-if="draft.mass && !fault" class="soft small">
    Read to {{ lastDigit(draft.mass) }} g: u
    {{ (lastDigit(draft.mass) / Math.sqrt(12)).toPrecision(2) }} g.
  </p>
</template>

<style scoped src="./intake.css"></style>
