<script setup lang="ts">
/** Known masses up and down, the line through them, and what that makes of the stand's u. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced, useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import { localDay } from '@/figures/format'
import { numberFault, numberOf, numberOrNull } from '@/figures/readNumber'
import DayField from '@/forms/DayField.vue'
import NumberField from '@/forms/NumberField.vue'
import CalibrationFit from './CalibrationFit.vue'

const props = defineProps<{ stand: Schemas['StandSheet'] }>()
const { mayWrite } = useSession()
interface Load {
  mass: string
  reading: string
  going: 'up' | 'down'
}
const today = localDay()
const EMPTY = { day: today, remind: '', step: '1', masses_u: '', loads: [] as Load[] }
const draft = useLocalStorage(`spindle.calibration-${props.stand.id}`, { ...EMPTY })
const next = ref<Load>({ mass: '', reading: '', going: 'up' })
const massField = ref<{ focus: () => void } | null>(null)
const open = ref(draft.value.loads.length > 0)

async function add() {
  const { mass, reading, going } = next.value
  if (!mass.trim() || !reading.trim() || numberFault(mass) || numberFault(reading)) return
  const before = draft.value.loads.at(-1)
  draft.value.loads.push({ mass, reading, going })
  // A smaller mass than the one before is on the way down, and so is what follows.
  const falls = before && numberOf(mass) < numberOf(before.mass)
  if (falls) {
    const last = draft.value.loads.at(-1)
    if (last) last.going = 'down'
  }
  next.value = { mass: '', reading: '', going: falls ? 'down' : going }
  await nextTick()
  massField.value?.focus()
}
const body = computed(() => ({
  loads: draft.value.loads.map((load) => ({
    mass_g: numberOf(load.mass),
    reading_g: numberOf(load.reading),
    going: load.going,
  })),
  step_g: numberFault(draft.value.step) ? 1 : (numberOrNull(draft.value.step) ?? 1),
  masses_relative_u: numberFault(draft.value.masses_u)
    ? null
    : percent(numberOrNull(draft.value.masses_u)),
}))
function percent(value: number | null) {
  return value === null ? null : value / 100
}
const asked = refDebounced(body, 300)
const trial = useQuery(
  computed(() => ({
    queryKey: ['calibration-trial', props.stand.id, asked.value],
    queryFn: async () =>
      dataOf(
        await api.POST('/api/v1/stands/{id}/calibration-trial/', {
          params: { path: { id: props.stand.id } },
          body: asked.value,
        }),
      ),
    enabled: asked.value.loads.length > 2,
    retry: false,
  })),
)
const keeping = useWrite('stand', (wanted: Schemas['CalibrationRequest']) =>
  api.POST('/api/v1/stands/{id}/calibrations/', {
    params: { path: { id: props.stand.id } },
    body: wanted,
  }),
)
const striking = useWrite('stand', (row: Schemas['Calibration']) =>
  api.PATCH('/api/v1/calibrations/{id}/', {
    params: { path: { id: row.id } },
    body: {
      struck_reason: row.struck_reason ? '' : 'a mistake',
      version: row.version,
    },
  }),
)
async function keep() {
  const sent = await keeping.send({
    ...body.value,
    valid_from: draft.value.day,
    remind_on: draft.value.remind || null,
  })
  if (!sent) return
  draft.value = { ...EMPTY, loads: [] }
  open.value = false
}
const kept = computed(() => [...props.stand.calibrations].reverse())
const counts = computed(() => kept.value.find((row) => !row.struck_reason) ?? null)
const problem = computed(() => keeping.problem.value ?? striking.problem.value)
</script>

<template>
  <div class="bar">
    <h2>Calibration with known masses</h2>
    <el-button v-if="mayWrite" size="small" :aria-expanded="open" @click="open = !open"
      >Calibrate</el-button
    >
  </div>
  <div v-if="open" class="new">
    <p class="soft small">
      Motor still, prop off, power away. Hang masses where thrust pulls, one after the other, up and
      down again; begin and end with 0 g.
    </p>
    <el-form class="line" @submit.prevent="add">
      <NumberField ref="massField" v-model="next.mass" label="Mass" unit="g" />
      <NumberField v-model="next.reading" label="The scale shows" unit="g" width="usual" />
      <el-radio-group v-model="next.going" aria-label="Loading or unloading">
        <el-radio-button value="up" label="up" />
        <el-radio-button value="down" label="down" />
      </el-radio-group>
      <el-button native-type="submit">Next (Enter)</el-button>
    </el-form>
    <p v-if="draft.loads.length" class="loads">
      <el-tag
        v-for="(load, at) in draft.loads"
        :key="at"
        closable
        disable-transitions
        @close="draft.loads.splice(at, 1)"
        >{{ load.going === 'up' ? '↑' : '↓' }} {{ load.mass }} g: {{ load.reading }} g</el-tag
      >
    </p>
    <p v-if="trial.error.value && asked.loads.length > 2" class="doubt">
      {{ sentenceOf(trial.error.value) }}
    </p>
    <CalibrationFit
      v-if="trial.data.value && asked.loads.length > 2"
      :loads="asked.loads"
      :fit="trial.data.value"
    />
    <el-form v-if="draft.loads.length > 2" class="line" @submit.prevent="keep">
      <NumberField v-model="draft.step" label="Step of the scale" unit="g" />
      <NumberField
        v-model="draft.masses_u"
        label="u of the masses"
        unit="%"
        placeholder="0.2 (assumed)"
      />
      <DayField v-model="draft.day" label="Counts from" width="usual" />
      <DayField v-model="draft.remind" label="Remind on" width="usual" />
      <el-button
        type="primary"
        native-type="submit"
        :disabled="!trial.data.value"
        :loading="keeping.busy.value"
        >Keep as the stand's u</el-button
      >
    </el-form>
  </div>
  <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
  <p v-if="!kept.length && !open" class="soft">
    Never calibrated. Three known masses make a line; five, up and down, also tell whether it is
    straight and whether it sticks.
  </p>
  <template v-if="counts && !open">
    <CalibrationFit :loads="counts.loads" :fit="counts.fit" />
  </template>
  <ul v-if="kept.length" class="kept">
    <li v-for="row in kept" :key="row.id" :class="{ struck: row.struck_reason }">
      <span
        >{{ row.valid_from }}: u {{ (100 * row.relative_u).toPrecision(2) }} % from
        {{ row.loads.length }} readings</span
      >
      <span v-if="row.id === counts?.id" class="tag within">counts</span>
      <span v-if="row.remind_on" class="soft small">again on {{ row.remind_on }}</span>
      <el-button
        v-if="mayWrite"
        link
        size="small"
        :loading="striking.busy.value"
        @click="striking.send(row)"
        >{{ row.struck_reason ? 'Let it stand again' : 'Strike it out' }}</el-button
      >
    </li>
  </ul>
</template>

<style scoped src="./rig.css"></style>
<style scoped>
.loads {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 8px 0 0;
}
.kept {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
}
.kept li {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.struck span:first-child {
  text-decoration: line-through;
  color: var(--ink-soft);
}
</style>
