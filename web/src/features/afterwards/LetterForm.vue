<script setup lang="ts">
/** What somebody wrote, or what was written to a maker. */
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { suppliesQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'
import { localDay } from '@/figures/format'
import { numberFault, numberOrNull } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import DayField from '@/forms/DayField.vue'
import FieldRow from '@/forms/FieldRow.vue'
import MotorField from '@/forms/MotorField.vue'
import NumberField from '@/forms/NumberField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'

const props = defineProps<{ motor?: number }>()
const empty = () => ({
  kind: 'question',
  text: '',
  person: '',
  received_on: localDay(),
  motor: props.motor ?? (null as number | null),
  craft_words: '',
  propeller_words: '',
  temp_c: '',
  failure: '',
  propeller: null as number | null,
  supply: null as number | null,
  readers: '1',
  wanted_by: '',
})
const draft = useLocalStorage(`spindle.letter-${props.motor ?? 'any'}`, empty(), {
  mergeDefaults: true,
})
const report = computed(() => draft.value.kind === 'report')
const request = computed(() => draft.value.kind === 'request')
const { data: supplies } = useQuery(
  computed(() => ({ ...suppliesQuery(), enabled: request.value })),
)
const supplyChoices = computed(() => [
  { key: 0, label: 'any' },
  ...(supplies.value ?? [])
    .filter((one) => !one.retired)
    .map((one) => ({ key: one.id, label: one.name })),
])
const noting = useWrite('letter', async (body: Schemas['LetterRequest']) =>
  dataOf(await api.POST('/api/v1/letters/', { body })),
)
const ready = computed(
  () =>
    draft.value.text.trim() &&
    draft.value.received_on &&
    !numberFault(draft.value.temp_c) &&
    (!request.value || (draft.value.readers.trim() && !numberFault(draft.value.readers))),
)
async function note() {
  if (!ready.value) return
  const { temp_c, failure, propeller, supply, readers, wanted_by, ...rest } = draft.value
  const sent = await noting.send({
    ...rest,
    kind: rest.kind as Schemas['LetterRequest']['kind'],
    temp_c: report.value ? numberOrNull(temp_c) : null,
    ...(request.value
      ? {
          propeller,
          supply: supply || null,
          readers: numberOrNull(readers) ?? 1,
          wanted_by: wanted_by || null,
        }
      : {}),
    failure: (report.value ? failure : '') as Schemas['LetterRequest']['failure'],
  })
  if (sent) draft.value = { ...empty(), kind: rest.kind, received_on: rest.received_on }
}
const fault = (name: string) => fieldMessage(noting.problem.value, name)
const failures = computed(() => [{ key: '', label: 'none' }, ...choices('incident')])
</script>

<template>
  <form class="letter" @submit.prevent="note">
    <div class="fields">
      <ChoiceField v-model="draft.kind" label="Kind" :choices="choices('letter')" />
      <DayField v-model="draft.received_on" label="Day" :problem="fault('received_on')" />
      <TextField v-model="draft.person" label="Who" :maxlength="80" :problem="fault('person')" />
      <MotorField v-if="!motor" v-model="draft.motor" label="On the motor" width="wide" />
    </div>
    <div v-if="report" class="fields">
      <TextField v-model="draft.craft_words" label="Their craft" :maxlength="120" />
      <TextField v-model="draft.propeller_words" label="Their propeller" :maxlength="80" />
      <NumberField v-model="draft.temp_c" label="Motor temperature" unit="°C" />
      <ChoiceField
        v-model="draft.failure"
        label="What failed"
        :choices="failures"
        :problem="fault('failure')"
      />
    </div>
    <div v-if="request" class="fields">
      <PropellerField
        v-model="draft.propeller"
        label="On the propeller"
        :problem="fault('propeller')"
        width="wide"
      />
      <ChoiceField v-model="draft.supply" label="On the supply" :choices="supplyChoices" />
      <NumberField v-model="draft.readers" label="Readers who asked" :problem="fault('readers')" />
      <DayField v-model="draft.wanted_by" label="Wanted by" :problem="fault('wanted_by')" />
    </div>
    <FieldRow for="letter-text" label="What was written" width="wide" :problem="fault('text')">
      <el-input
        id="letter-text"
        v-model="draft.text"
        type="textarea"
        :autosize="{ minRows: 2, maxRows: 8 }"
        :maxlength="4000"
      />
    </FieldRow>
    <div class="row">
      <el-button type="primary" native-type="submit" :disabled="!ready" :loading="noting.busy.value"
        >Note it</el-button
      >
      <span v-if="report" class="soft small">A report is quoted; it counts as no measurement.</span>
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
  gap: 10px;
  align-items: center;
  margin-top: 8px;
}
.fault {
  color: var(--stop);
}
</style>
