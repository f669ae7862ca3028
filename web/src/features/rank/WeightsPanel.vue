<script setup lang="ts">
/** What counts, and how much: weights by use, a slider and a number per criterion, own sets. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { weightsQuery } from '@/api/judgeQueries'
import { useWrite } from '@/api/useWrite'
import TextField from '@/forms/TextField.vue'
import { sameWeights, type WeightMap } from './asked'

const props = defineProps<{ measures: Schemas['RankMeasure'][]; mayWrite: boolean }>()
const emit = defineEmits<{ weigh: [weights: WeightMap]; use: [use: string] }>()
const MOST = 4
const WAIT_MS = 250
const { data: listed } = useQuery(weightsQuery())
const weights = ref<WeightMap>({})
let waiting: ReturnType<typeof setTimeout> | undefined
// What the answer weighs counts, unless a slider is on its way.
watch(
  () => props.measures,
  (measures) => {
    if (waiting === undefined)
      weights.value = Object.fromEntries(measures.map((one) => [one.name, one.weight]))
  },
  { immediate: true },
)
function weigh(name: string, weight: number | undefined) {
  weights.value = { ...weights.value, [name]: weight ?? 0 }
  clearTimeout(waiting)
  waiting = setTimeout(() => {
    waiting = undefined
    if (Object.values(weights.value).some((one) => one > 0)) emit('weigh', weights.value)
  }, WAIT_MS)
}
const nothing = computed(() => !Object.values(weights.value).some((one) => one > 0))
const preset = computed(
  () => listed.value?.presets.find((one) => sameWeights(one.weights, weights.value))?.use ?? '',
)
const own = computed(
  () => listed.value?.own.find((one) => sameWeights(one.weights, weights.value)) ?? null,
)
const chosen = computed({
  get: () => (preset.value ? `use ${preset.value}` : own.value ? `own ${own.value.id}` : ''),
  set: (key: string) => {
    const [kind, ...rest] = key.split(' ')
    if (kind === 'use') emit('use', rest.join(' '))
    const found = listed.value?.own.find((one) => `own ${one.id}` === key)
    if (found) emit('weigh', found.weights)
  },
})
const name = ref('')
const keeping = ref(false)
const saving = useWrite('weights', async (body: Schemas['NewWeightsRequest']) =>
  dataOf(await api.POST('/api/v1/rank/weights/', { body })),
)
const dropping = useWrite('weights', (one: Schemas['OwnWeights']) =>
  api.DELETE('/api/v1/rank/weights/{id}/', {
    params: { path: { id: one.id }, query: { version: one.version } },
  }),
)
async function keep() {
  const weighed = Object.fromEntries(Object.entries(weights.value).filter(([, one]) => one > 0))
  if ((await saving.send({ name: name.value, weights: weighed })) === undefined) return
  keeping.value = false
  name.value = ''
}
/** Of what is read at a level, where. */
const levelOf = (one: Schemas['RankMeasure']) =>
  one.level == null ? '' : ` at ${one.level} ${one.at === 'thrust_gf' ? 'gf' : 'W'}`
</script>

<template>
  <section class="sheet" aria-label="What counts">
    <h2>What counts</h2>
    <label for="weights-use">For</label>
    <el-select
      id="weights-use"
      v-model="chosen"
      persistent
      filterable
      default-first-option
      placeholder="weights of its own"
    >
      <el-option-group label="By use">
        <el-option
          v-for="one in listed?.presets"
          :key="one.use"
          :value="`use ${one.use}`"
          :label="one.use === 'equal' ? 'four equal criteria' : one.use"
        />
      </el-option-group>
      <el-option-group v-if="listed?.own.length" label="Kept here">
        <el-option
          v-for="one in listed.own"
          :key="one.id"
          :value="`own ${one.id}`"
          :label="one.name"
        />
      </el-option-group>
    </el-select>
    <ul>
      <li v-for="one in measures" :key="one.name" :class="{ without: !one.motors }">
        <span :id="`weight-${one.name}`" class="label"
          >{{ one.label }}<template v-if="one.lower_is_better">, less is better</template></span
        >
        <span class="soft small"
          >{{ one.motors }} motor{{ one.motors === 1 ? '' : 's' }}{{ levelOf(one) }}</span
        >
        <el-slider
          :model-value="weights[one.name] ?? 0"
          :min="0"
          :max="MOST"
          :step="0.25"
          :show-tooltip="false"
          :disabled="!one.motors && !one.weight"
          :aria-label="`Weight of ${one.label}`"
          @input="weigh(one.name, $event as number)"
        />
        <el-input-number
          :model-value="weights[one.name] ?? 0"
          :min="0"
          :max="MOST"
          :step="0.25"
          :controls="false"
          size="small"
          :disabled="!one.motors && !one.weight"
          :aria-label="`Weight of ${one.label}, as a number`"
          @update:model-value="weigh(one.name, $event ?? 0)"
        />
      </li>
    </ul>
    <p v-if="nothing" class="problem" role="alert">Give at least one criterion a weight.</p>
    <template v-if="mayWrite && !preset && !nothing">
      <p v-if="own" class="small">
        Kept as “{{ own.name }}”{{ own.made_by_name ? ` by ${own.made_by_name}` : '' }}.
        <el-button size="small" text @click="dropping.send(own)">Drop it</el-button>
      </p>
      <el-button v-else-if="!keeping" size="small" text @click="keeping = true"
        >Keep these weights by name…</el-button
      >
      <form v-else @submit.prevent="keep">
        <TextField
          v-model="name"
          label="Name of these weights"
          :problem="fieldMessage(saving.problem.value, 'name')"
        />
        <el-button size="small" type="primary" native-type="submit" :disabled="!name.trim()"
          >Keep them</el-button
        >
        <el-button size="small" text @click="keeping = false">Cancel</el-button>
      </form>
    </template>
    <p
      v-if="saving.problem.value && !fieldMessage(saving.problem.value, 'name')"
      class="problem"
      role="alert"
    >
      {{ sentenceOf(saving.problem.value) }}
    </p>
    <p v-if="dropping.problem.value" class="problem" role="alert">
      {{ sentenceOf(dropping.problem.value) }}
    </p>
  </section>
</template>

<style scoped>
label {
  font-size: 12.5px;
  color: var(--ink-soft);
}
ul {
  list-style: none;
  padding: 0;
  margin: 10px 0 6px;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  column-gap: 8px;
  padding: 3px 0;
  border-top: 1px solid var(--line-soft);
}
li .el-slider {
  height: 28px;
  padding: 0 8px;
}
li .el-input-number {
  justify-self: end;
  width: 58px;
}
.label {
  font-size: 13px;
}
.without .label {
  color: var(--ink-soft);
}
.problem {
  color: var(--stop);
}
</style>
