<script setup lang="ts">
/** Who is it up against, and what is expected of it before the first run? */
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import ExpectationList from '@/features/motor_file/ExpectationList.vue'
import PeerList from '@/features/motor_file/PeerList.vue'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { optional } from './typed'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
const OF = [
  { key: '', label: 'in words only' },
  { key: 'max_thrust_gf', label: 'Highest thrust (gf)' },
  { key: 'max_current_a', label: 'Highest current (A)' },
  { key: 'kv_rpm_per_v', label: 'kV (rpm/V)' },
  { key: 'mass_g', label: "Mass at the bench's lead length (g)" },
]
const EMPTY = { quantity: '', value: '', text: '' }
const draft = useLocalStorage(`spindle.expect-${props.file.motor.id}`, { ...EMPTY })
const fault = ref('')

const noting = useWrite('motor', (body: Schemas['ExpectationRequest']) =>
  api.POST('/api/v1/motors/{id}/expectations/', {
    params: { path: { id: props.file.motor.id } },
    body,
  }),
)
const { problem, busy } = noting

async function expect() {
  const value = optional(draft.value.value)
  fault.value = draft.value.quantity && !value ? 'Write the number you expect.' : ''
  if (fault.value) return
  const sent = await noting.send({
    quantity: draft.value.quantity as Schemas['ExpectedQuantityEnum'] | '',
    value: draft.value.quantity ? value : null,
    text: draft.value.text,
  })
  if (sent) draft.value = { ...EMPTY }
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
      <el-form v-if="mayWrite" @submit.prevent="expect">
        <div class="line">
          <ChoiceField
            id="expect-of"
            v-model="draft.quantity"
            label="Expected"
            width="wide"
            :choices="OF"
          />
          <NumberField
            v-if="draft.quantity"
            id="expect-value"
            v-model="draft.value"
            label="Number"
            :problem="fault"
          />
          <TextField
            id="expect-text"
            v-model="draft.text"
            label="In words"
            width="wide"
            :maxlength="2000"
          />
          <el-button type="primary" native-type="submit" :loading="busy">Note it</el-button>
        </div>
        <p v-if="problem" class="field-problem" role="alert">
          {{ fieldMessage(problem, 'text') || sentenceOf(problem) }}
        </p>
      </el-form>
    </section>
  </div>
</template>

<style scoped src="./intake.css"></style>
