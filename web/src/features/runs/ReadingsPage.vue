<script setup lang="ts">
/** Numbers read off a scale, a watt meter, a tachometer: a sheet that becomes a run. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced, useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { standsQuery, suppliesQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import BenchDay from '@/features/rig/BenchDay.vue'
import { localDay } from '@/figures/format'
import ChoiceField from '@/forms/ChoiceField.vue'
import DayField from '@/forms/DayField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import SampleField from '@/forms/SampleField.vue'
import TextField from '@/forms/TextField.vue'
import ReadingsGrid from './ReadingsGrid.vue'
import { cellFault, type Cells, COLUMNS, isEmpty, numbersOf } from './sheet'

const route = useRoute()
const router = useRouter()
const today = localDay()
const EMPTY = {
  sample: (Number(route.query.sample) || null) as number | null,
  propeller: null as number | null,
  supply: 0,
  stand: 0,
  day: today,
  kind: 'held',
  note: '',
  rows: [{ throttle_pct: '0' }, {}, {}] as Cells[],
}
/** What is typed outlives a reload and a lost server. */
const draft = useLocalStorage('spindle.readings', structuredClone(EMPTY))
const { data: stands } = useQuery(standsQuery())
const { data: supplies } = useQuery(suppliesQuery())
const inUse = (rows: readonly { id: number; name: string; retired?: boolean }[] | undefined) => [
  { key: 0, label: 'not noted' },
  ...(rows ?? []).filter((row) => !row.retired).map((row) => ({ key: row.id, label: row.name })),
]
const KINDS = [
  { key: 'held', label: 'all figures of one instant' },
  { key: 'maxima', label: 'what the meter kept: lowest V, largest A and W' },
]
const maxima = computed(() => draft.value.kind === 'maxima')
const body = computed(() => ({
  rows: draft.value.rows.map(numbersOf),
  maxima: maxima.value,
  day: draft.value.day,
  stand: draft.value.stand || null,
}))
const asked = refDebounced(body, 300)
const look = useQuery(
  computed(() => ({
    queryKey: ['readings-look', asked.value],
    queryFn: async () => dataOf(await api.POST('/api/v1/readings/look/', { body: asked.value })),
    retry: false,
    placeholderData: (before: Schemas['RowLook'][] | undefined) => before,
  })),
)
/** Looked at as it stands now; what the server has not seen is unchecked, and never fine. */
const checked = computed(
  () =>
    !look.isError.value &&
    !look.isPlaceholderData.value &&
    JSON.stringify(asked.value) === JSON.stringify(body.value),
)
const wrongCells = computed(() =>
  draft.value.rows.some((row) => COLUMNS.some((column) => cellFault(row, column))),
)
const impossible = computed(() =>
  (look.data.value ?? []).some((row) => row.findings.some((one) => one.impossible)),
)
const filled = computed(() => draft.value.rows.filter((row) => !isEmpty(row)).length)
const keeping = useWrite('run', async (sheet: Schemas['NewSheetRequest']) =>
  dataOf(await api.POST('/api/v1/readings/', { body: sheet })),
)
const { problem, busy } = keeping
const missing = computed(() =>
  [
    draft.value.sample ? '' : 'Choose the motor and its sample',
    draft.value.propeller ? '' : 'Choose the propeller',
    filled.value > 1 || !draft.value.rows[0]?.throttle_pct ? '' : 'Type a reading under throttle',
    wrongCells.value ? 'A cell is no number' : '',
  ].filter(Boolean),
)
async function keep() {
  const { sample, propeller, supply, note } = draft.value
  if (missing.value.length || !sample || !propeller) return
  const run = await keeping.send({
    ...body.value,
    rows: draft.value.rows.filter((row) => !isEmpty(row)).map(numbersOf),
    sample,
    propeller,
    supply: supply || null,
    note,
  })
  if (!run) return
  // The next sheet is of the same evening: stand, supply and day stay.
  draft.value = { ...draft.value, note: '', rows: structuredClone(EMPTY.rows) }
  await router.push(`/runs/${run.id}`)
}
</script>

<template>
  <h1>Readings</h1>
  <p class="caution">
    Read with the prop in its guard and nobody in its plane; throttle back before you write. The
    maker's instructions come first.
  </p>
  <el-form class="sheet" @submit.prevent="keep">
    <div class="of">
      <SampleField id="readings-sample" v-model="draft.sample" label="Motor and sample" />
      <PropellerField id="readings-propeller" v-model="draft.propeller" label="Propeller" />
      <ChoiceField v-model="draft.supply" label="Supply" :choices="inUse(supplies)" />
      <ChoiceField v-model="draft.stand" label="Stand" :choices="inUse(stands)" />
      <DayField
        v-model="draft.day"
        label="Day"
        width="usual"
        :problem="fieldMessage(problem, 'day')"
      />
      <ChoiceField v-model="draft.kind" label="A row is" width="wide" :choices="KINDS" />
    </div>
    <BenchDay v-if="draft.day === today" class="small" />
    <ReadingsGrid v-model="draft.rows" :looks="look.data.value ?? []" :checked="checked" />
    <p v-if="look.isError.value" class="doubt" role="status">
      Unchecked: {{ sentenceOf(look.error.value) }} What is typed stays here.
    </p>
    <div class="of">
      <TextField v-model="draft.note" label="Note: sound, smell, vibration" width="wide" />
      <el-button
        type="primary"
        native-type="submit"
        :disabled="Boolean(missing.length)"
        :loading="busy"
        >Keep as a run</el-button
      >
    </div>
    <p v-if="missing.length" class="soft small">{{ missing.join(' · ') }}</p>
    <p v-else-if="impossible" class="doubt">
      A row cannot be true as it stands. It can be kept as it was typed; the run will say so.
    </p>
    <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
  </el-form>
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
  margin: 0 0 8px;
}
.caution,
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
