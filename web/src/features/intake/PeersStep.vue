<script setup lang="ts">
/** Who is it up against, and what is expected of it before the first run? */
import { useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import ExpectationList from '@/features/motor/ExpectationList.vue'
import PeerList from '@/features/motor/PeerList.vue'
import { optional } from './typed'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
const client = useQueryClient()
const OF: Record<string, string> = {
  '': 'in words only',
  max_thrust_gf: 'Highest thrust (gf)',
  max_current_a: 'Highest current (A)',
  kv_rpm_per_v: 'kV (rpm/V)',
  mass_g: "Mass at the bench's lead length (g)",
}
const EMPTY = { quantity: '', value: '', text: '' }
const draft = useLocalStorage(`spindle.expect-${props.file.motor.id}`, { ...EMPTY })
const problem = ref<unknown>(null)
const fault = ref('')

async function expect() {
  problem.value = null
  const value = optional(draft.value.value)
  fault.value = draft.value.quantity && !value ? 'Write the number you expect.' : ''
  if (fault.value) return
  try {
    await api.POST('/api/v1/motors/{id}/expectations/', {
      params: { path: { id: props.file.motor.id } },
      body: {
        quantity: draft.value.quantity as Schemas['ExpectedQuantityEnum'] | '',
        value: draft.value.quantity ? value : null,
        text: draft.value.text,
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
  <div class="halves">
    <section class="sheet">
      <h2>Peers on the bench</h2>
      <PeerList :peers="file.peers" />
    </section>
    <section class="sheet">
      <h2>What you expect</h2>
      <p class="soft small">
        Dated today and never changed; it is held against the result on the motor file.
      </p>
      <ExpectationList :expectations="file.expectations" />
      <form v-if="mayWrite" @submit.prevent="expect">
        <div class="line">
          <div class="wide">
            <label for="expect-of">Expected</label>
            <select id="expect-of" v-model="draft.quantity">
              <option v-for="(word, key) in OF" :key="key" :value="key">{{ word }}</option>
            </select>
          </div>
          <div v-if="draft.quantity" class="narrow">
            <label for="expect-value">Number</label>
            <input id="expect-value" v-model="draft.value" class="num" inputmode="decimal" />
          </div>
          <div class="wide">
            <label for="expect-text">In words</label>
            <input id="expect-text" v-model="draft.text" maxlength="2000" />
          </div>
          <el-button type="primary" native-type="submit">Note it</el-button>
        </div>
        <p v-if="fault || problem" class="field-problem" role="alert">
          {{ fault || fieldMessage(problem, 'text') || sentenceOf(problem) }}
        </p>
      </form>
    </section>
  </div>
</template>

<style scoped src="./intake.css"></style>
