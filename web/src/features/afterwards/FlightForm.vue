<script setup lang="ts">
/** A flight, typed: craft, pack and minutes suffice; more is asked for only where somebody has it. */
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { motorQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import DayField from '@/forms/DayField.vue'
import FieldRow from '@/forms/FieldRow.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'
import { bodyOf, newDraft, NUMBERS, type NumberName } from './flights'

const props = defineProps<{ craft: Schemas['Craft'] }>()
const draft = useLocalStorage(`spindle.flight-${props.craft.id}`, newDraft())
const samples = ref<number[]>([])
const more = ref(false)
const said = ref('')
const { data: motor } = useQuery(computed(() => motorQuery(props.craft.carries_motor ?? null)))
const made = computed(() => bodyOf(draft.value, props.craft.id, samples.value))
const noting = useWrite('flight', async (body: Schemas['FlightRequest']) =>
  dataOf(await api.POST('/api/v1/flights/', { body })),
)
async function note() {
  if (!made.value.body) return
  const row = await noting.send(made.value.body)
  if (!row) return
  said.value = `Noted: ${row.minutes} min on ${row.flown_on}.`
  const day = draft.value.flown_on
  draft.value = { ...newDraft(), flown_on: day, flown_by: draft.value.flown_by }
}
const fault = (name: string) => fieldMessage(noting.problem.value, name)
const FIRST: NumberName[] = ['minutes', 'put_back_mah', 'mass_g', 'hover_share_pct']
const REST: NumberName[] = ['motor_temp_c', 'air_temp_c', 'distance_m']
const winds = computed(() => [{ key: '', label: 'not noted' }, ...choices('wind')])
</script>

<template>
  <form class="flight" @submit.prevent="note">
    <div class="fields">
      <DayField v-model="draft.flown_on" label="Day" :problem="fault('flown_on')" />
      <NumberField
        v-for="name in FIRST"
        :key="name"
        v-model="draft.numbers[name]"
        :label="NUMBERS[name].label"
        :unit="NUMBERS[name].unit"
        :problem="fault(name)"
      />
      <ChoiceField v-model="draft.wind" label="Wind" :choices="winds" />
    </div>
    <div v-if="more" class="fields">
      <NumberField
        v-for="name in REST"
        :key="name"
        v-model="draft.numbers[name]"
        :label="NUMBERS[name].label"
        :unit="NUMBERS[name].unit"
        :problem="fault(name)"
      />
      <FieldRow v-if="motor?.samples.length" for="flown-samples" label="Samples that flew">
        <el-select
          id="flown-samples"
          v-model="samples"
          multiple
          filterable
          placeholder="for hours of use"
        >
          <el-option v-for="one in motor.samples" :key="one.id" :value="one.id" :label="one.mark" />
        </el-select>
      </FieldRow>
      <TextField v-model="draft.flown_by" label="Flown by" :maxlength="80" />
      <TextField v-model="draft.impressions" label="Impressions" :maxlength="2000" width="wide" />
    </div>
    <div class="row">
      <el-button
        type="primary"
        native-type="submit"
        :disabled="!made.body"
        :loading="noting.busy.value"
        >Note the flight</el-button
      >
      <el-button text @click="more = !more">{{ more ? 'Less' : 'More of it …' }}</el-button>
      <span class="soft small">{{ made.lacks }}</span>
      <span v-if="said" role="status" class="small">{{ said }}</span>
    </div>
    <p v-if="noting.problem.value" role="alert" class="fault">
      {{ sentenceOf(noting.problem.value) }}
    </p>
  </form>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  margin-bottom: 8px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.fault {
  color: var(--stop);
}
</style>
