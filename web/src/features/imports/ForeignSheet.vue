<script setup lang="ts">
/** Somebody's file: its columns, the runs in it, whose they are. Nothing is stored before all of
 * that was looked at. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { fieldMessage, type Schemas, sendForm, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { numberOrNull, numberFault } from '@/figures/readNumber'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import SampleField from '@/forms/SampleField.vue'
import TextField from '@/forms/TextField.vue'
import { words } from '@/words/words'
import ColumnTable from './ColumnTable.vue'
import { lookAtLarge } from './large'
import LargeProgress from './LargeProgress.vue'
import { isElectrical, type LogMapping, spread, type Whose, withHeader } from './mapping'
import RunsInFile from './RunsInFile.vue'
import { useLargeFile } from './useLargeFile'
import { useSupplyAndStand } from './useSupplyAndStand'

const props = defineProps<{ file: File; inbox: number | null; opened: Schemas['Opened'] }>()
const emit = defineEmits<{ stored: [runs: { id: number }[]] }>()
const { supplies, stands } = useSupplyAndStand()

const mapping = ref(structuredClone(props.opened.mapping) as LogMapping)
const asked = refDebounced(mapping, 250)
const formOf = (sent: Record<string, string>) => {
  const form = new FormData()
  form.append('file', props.file)
  for (const [name, value] of Object.entries(sent)) form.append(name, value)
  return form
}
const looking = useQuery(
  computed(() => ({
    queryKey: ['imports-open', props.opened.file_name, asked.value],
    queryFn: () => {
      const read = JSON.stringify(asked.value)
      return props.opened.large
        ? lookAtLarge(props.file, props.inbox, read)
        : sendForm<Schemas['Opened']>('/api/v1/imports/open/', formOf({ mapping: read }))
    },
    retry: false,
    placeholderData: (before: Schemas['Opened'] | undefined) => before ?? props.opened,
  })),
)
const seen = computed(() => looking.data.value ?? props.opened)
const current = computed(() => asked.value === mapping.value && !looking.isPlaceholderData.value)
const whose = ref<Whose[]>([])
const called = computed(() => seen.value.runs.map((run) => run.called))
watch(
  called,
  (now, before) => {
    if (whose.value.length && JSON.stringify(now) === JSON.stringify(before)) return
    whose.value = seen.value.runs.map(({ sample, propeller, supply }, at) => ({
      sample: sample ?? whose.value[at]?.sample ?? null,
      propeller: propeller ?? whose.value[at]?.propeller ?? null,
      supply: supply ?? whose.value[at]?.supply ?? null,
    }))
  },
  { immediate: true },
)
const put = (at: number, what: keyof Whose, value: number | null) => {
  whose.value = spread(whose.value, called.value, at, what, value)
}
const kinds = computed(() => words().run_kinds.map(({ key, label }) => ({ key, label })))
const kind = computed({
  get: () => mapping.value.header.kind ?? 'steps',
  set: (key: string) => (mapping.value = withHeader(mapping.value, 'kind', key)),
})
const poles = ref(mapping.value.pole_count ? String(mapping.value.pole_count) : '')
watch(poles, (text) => {
  if (!numberFault(text)) mapping.value = { ...mapping.value, pole_count: numberOrNull(text) }
})
const stand = ref(0)
const saveAs = ref('')
const wants = computed(() =>
  [
    seen.value.asks ? 'look at the marked columns' : '',
    seen.value.runs.length ? '' : 'no run is in it as it is read now',
    whose.value.some((one) => !one.sample) ? 'say which motor each run was' : '',
    seen.value.runs.some((run, at) => run.needs_propeller && !whose.value[at]?.propeller)
      ? 'say which propeller'
      : '',
  ].filter(Boolean),
)
/** Names in the file that the bench does not know. */
const strange = computed(() =>
  [
    ...new Set(
      seen.value.runs.flatMap((run, at) => [
        run.sample || whose.value[at]?.sample ? '' : (run.called.sample ?? ''),
        run.propeller || whose.value[at]?.propeller ? '' : (run.called.propeller ?? ''),
      ]),
    ),
  ].filter(Boolean),
)
const storing = useWrite('run', (form: FormData) =>
  sendForm<Schemas['Run'][]>('/api/v1/imports/files/', form),
)
const large = useLargeFile()
const problem = computed(() => looking.error.value ?? storing.problem.value ?? large.problem.value)
async function store() {
  if (wants.value.length || !current.value) return
  const [first] = whose.value
  if (props.opened.large && first?.sample) {
    const run = await large.store(props.file, props.inbox, {
      ...first,
      sample: first.sample,
      mapping: JSON.stringify(mapping.value),
      save_as: saveAs.value,
      stand: stand.value || null,
    })
    if (run) emit('stored', [{ id: run }])
    return
  }
  const made = await storing.send(
    formOf({
      mapping: JSON.stringify(mapping.value),
      belongs: JSON.stringify(whose.value),
      save_as: saveAs.value,
      ...(stand.value ? { stand: String(stand.value) } : {}),
    }),
  )
  if (made) emit('stored', made)
}
</script>

<template>
  <section class="sheet">
    <h2>
      {{ opened.file_name }}
      <span v-if="opened.known_as" class="tag within">read as “{{ opened.known_as }}”</span>
    </h2>
    <p v-if="seen.preamble.length" class="soft small">
      {{ seen.preamble.filter((line) => line.trim()).join(' · ') }}
    </p>
    <ColumnTable v-model="mapping" :columns="seen.columns" />
    <div class="of">
      <ChoiceField v-model="kind" label="Its runs are" :choices="kinds" />
      <NumberField
        v-if="isElectrical(mapping)"
        v-model="poles"
        label="Magnets of the motor"
        width="usual"
      />
    </div>
    <p v-if="seen.problem" class="doubt" role="status">{{ seen.problem }}</p>
  </section>
  <section v-if="seen.runs.length" class="sheet">
    <h2>
      {{ seen.runs.length === 1 ? 'One run is in it' : `${seen.runs.length} runs are in it` }}
    </h2>
    <RunsInFile :runs="seen.runs" :large="opened.large" />
    <el-form @submit.prevent="store">
      <div v-for="(one, at) in whose" :key="at" class="of">
        <strong v-if="whose.length > 1" class="mark">{{ at + 1 }}</strong>
        <SampleField
          :id="`belongs-sample-${at}`"
          :model-value="one.sample"
          :label="called[at]?.sample ? `“${called[at]?.sample}” is` : 'Motor and sample'"
          width="wide"
          :problem="fieldMessage(storing.problem.value, `belongs.${at}.sample`)"
          @update:model-value="put(at, 'sample', $event)"
        />
        <PropellerField
          v-if="seen.runs[at]?.needs_propeller"
          :id="`belongs-propeller-${at}`"
          :model-value="one.propeller"
          :label="called[at]?.propeller ? `“${called[at]?.propeller}” is` : 'Propeller'"
          width="wide"
          :problem="fieldMessage(storing.problem.value, `belongs.${at}.propeller`)"
          @update:model-value="put(at, 'propeller', $event)"
        />
        <ChoiceField
          :model-value="one.supply ?? 0"
          label="Supply"
          :choices="supplies"
          @update:model-value="put(at, 'supply', $event || null)"
        />
      </div>
      <div class="of">
        <ChoiceField v-model="stand" label="Stand" :choices="stands" />
        <TextField
          v-model="saveAs"
          label="Keep this way of reading as (recognises the next such file)"
          width="wide"
        />
        <el-button
          type="primary"
          native-type="submit"
          :disabled="Boolean(wants.length) || !current"
          :loading="storing.busy.value || large.busy.value"
          >{{ seen.runs.length === 1 ? 'Store it as a run' : 'Store them as runs' }}</el-button
        >
      </div>
      <LargeProgress :large="large" />
      <p v-if="wants.length" class="soft small">{{ wants.join(' · ') }}</p>
      <p v-if="strange.length" class="soft small">
        Not found on this bench: {{ strange.map((word) => `“${word}”`).join(', ') }}. Choose what it
        is, or add it first: <a href="/intake" target="_blank">motors at Intake</a>,
        <a href="/rig" target="_blank">propellers and supplies at the Rig</a>.
      </p>
    </el-form>
  </section>
  <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.of {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
  margin: 8px 0;
}
.mark {
  align-self: center;
}
.doubt {
  border-left: 4px solid var(--caution);
  background: var(--caution-soft);
  padding: 6px 10px;
  margin: 8px 0 0;
}
.problem {
  color: var(--stop);
}
</style>
