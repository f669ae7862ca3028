<script setup lang="ts">
/** The bench day: who, in what air, with what. Runs take from it what they do not say themselves. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { benchDayQuery, escsQuery, standsQuery } from '@/api/rigQueries'
import { useWrite } from '@/api/useWrite'
import { ApiError } from '@/api/client'
import { formatNumber } from '@/figures/format'
import { numberFault, numberOrNull } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { choices } from '@/words/words'
import { asText } from './percent'

const props = withDefaults(defineProps<{ day?: string }>(), { day: 'today' })
const emit = defineEmits<{ done: [] }>()
const { data } = useQuery(computed(() => benchDayQuery(props.day)))
const { data: stands } = useQuery(standsQuery())
const { data: escs } = useQuery(escsQuery())

const NUMBERS = ['air_temp_c', 'air_pressure_hpa', 'height_m', 'air_humidity_pct'] as const
const form = ref<Record<string, string>>({})
const version = ref(0)
const begun = ref('')
watch(
  data,
  (row) => {
    // What is being typed is not taken away by a look at the server.
    if (!row || (begun.value && begun.value !== JSON.stringify(form.value))) return
    form.value = {
      people: row.people ?? '',
      note: row.note ?? '',
      stand: asText(row.stand),
      esc: asText(row.esc),
      command_source: row.command_source ?? 'unknown',
      ...Object.fromEntries(NUMBERS.map((name) => [name, asText(row[name])])),
    }
    version.value = row.version ?? 0
    begun.value = JSON.stringify(form.value)
  },
  { immediate: true },
)
const none = { key: '', label: 'not said' }
const ofStands = computed(() => [
  none,
  ...(stands.value ?? [])
    .filter((row) => !row.retired || String(row.id) === form.value.stand)
    .map((row) => ({ key: String(row.id), label: row.name })),
])
const ofEscs = computed(() => [
  none,
  ...(escs.value ?? [])
    .filter((row) => !row.retired || String(row.id) === form.value.esc)
    .map((row) => ({ key: String(row.id), label: row.name })),
])
const field = (name: string) => ({
  modelValue: form.value[name] ?? '',
  'onUpdate:modelValue': (text: string | null) => (form.value[name] = text ?? ''),
  problem: fieldMessage(writing.problem.value, name),
})
const writing = useWrite('day', async (body: Schemas['BenchDaySheetRequest']) =>
  dataOf(
    await api.PUT('/api/v1/bench-days/{day}/', { params: { path: { day: props.day } }, body }),
  ),
)
/** The day's runs took from it: what becomes of them has to be said. */
const asks = computed(() => {
  const problem = writing.problem.value
  return problem instanceof ApiError && problem.body.code === 'touches_runs'
})
const ready = computed(() => !NUMBERS.some((name) => numberFault(form.value[name] ?? '')))
async function keep(with_runs: boolean | null) {
  if (!ready.value) return
  const kept = await writing.send({
    people: form.value.people,
    note: form.value.note,
    stand: numberOrNull(form.value.stand ?? ''),
    esc: numberOrNull(form.value.esc ?? ''),
    command_source: form.value.command_source as Schemas['CommandSourceEnum'],
    ...Object.fromEntries(NUMBERS.map((name) => [name, numberOrNull(form.value[name] ?? '')])),
    with_runs,
    version: version.value,
  } as Schemas['BenchDaySheetRequest'])
  if (!kept) return
  begun.value = JSON.stringify(form.value)
  version.value = kept.version ?? 1
  emit('done')
}
</script>

<template>
  <el-form v-if="data" class="line" @submit.prevent="keep(null)">
    <TextField v-bind="field('people')" label="People" />
    <NumberField v-bind="field('air_temp_c')" label="Air" unit="°C" />
    <NumberField v-bind="field('air_pressure_hpa')" label="Pressure" unit="hPa" />
    <NumberField v-bind="field('height_m')" label="or height" unit="m" />
    <NumberField v-bind="field('air_humidity_pct')" label="Humidity" unit="%" />
    <ChoiceField v-bind="field('stand')" label="Stand" :choices="ofStands" />
    <ChoiceField v-bind="field('esc')" label="ESC" :choices="ofEscs" />
    <ChoiceField
      v-bind="field('command_source')"
      label="The command comes from"
      :choices="choices('command_source')"
    />
    <TextField v-bind="field('note')" label="Note" width="wide" />
    <p v-if="data.pressure_u_hpa && data.pressure_hpa" class="soft small whole">
      Pressure from the height: {{ formatNumber(data.pressure_hpa, 0) }} ±
      {{ formatNumber(data.pressure_u_hpa, 0) }} hPa; the weather is not in it. A barometer tells
      the density to better than 1 %.
    </p>
    <div v-if="asks" class="doubt whole" role="alert">
      {{ sentenceOf(writing.problem.value) }}
      <el-button size="small" @click="keep(true)">They change with it</el-button>
      <el-button size="small" @click="keep(false)">They keep theirs</el-button>
    </div>
    <p v-else-if="writing.problem.value" class="problem whole" role="alert">
      {{ sentenceOf(writing.problem.value) }}
    </p>
    <span class="whole">
      <el-button
        type="primary"
        native-type="submit"
        :disabled="!ready"
        :loading="writing.busy.value"
        >{{ version ? 'Keep' : 'Begin the day' }}</el-button
      >
      <span v-if="data.touches.length" class="soft small">
        {{ data.touches.length }} {{ data.touches.length === 1 ? 'run takes' : 'runs take' }} from
        this day.</span
      >
    </span>
  </el-form>
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.whole {
  flex-basis: 100%;
}
</style>
