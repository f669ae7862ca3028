<script setup lang="ts">
/** Which is better, where, and is it real? Runs, repeats, samples and models as curves. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, fieldMessage, sentenceOf } from '@/api/client'
import { comparisonQuery } from '@/api/compareQueries'
import { useLast } from '@/api/useLast'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { fileWords } from '@/app/useAddress'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import MotorMark from '@/figures/MotorMark.vue'
import { runMarks } from '@/figures/motorMark'
import { ASKED_NAMES, axesIn, axesText } from './asked'
import CompareHead from './CompareHead.vue'
import ConditionBar from './ConditionBar.vue'
import { shortNames } from './curves'
import CurveSheet from './CurveSheet.vue'
import FeelSheet from './FeelSheet.vue'
import KeptComparisons from './KeptComparisons.vue'
import LevelTable from './LevelTable.vue'
import LikeWithLike from './LikeWithLike.vue'
import QuestionBar from './QuestionBar.vue'
import SubjectList from './SubjectList.vue'
import TorqueSheet from './TorqueSheet.vue'
import { useCompared } from './useCompared'
import WarmthSheet from './WarmthSheet.vue'

const MOST = 160
const inHand = useInHand()
const { mayPublish, mayWrite } = useSession()
const { ask, asked, choose, chosen, listError, look, looking, noted, nothing, open, take } =
  useCompared()
const { data, error, isFetching, refetch } = useQuery(computed(() => comparisonQuery(asked.value)))
const comparison = useLast(data)
const marks = computed(() => runMarks(comparison.value?.subjects.map((one) => one.motor) ?? []))
const heads = computed(() => shortNames(comparison.value?.subjects ?? []))
const axes = computed(() => axesIn(asked.value.axes))
const motors = computed(() => [
  ...new Map(
    (comparison.value?.subjects ?? []).map((one) => [
      one.motor,
      { motor: one.motor, name: one.motor_name },
    ]),
  ).values(),
])
const questions = computed(() =>
  Object.fromEntries(
    ASKED_NAMES.flatMap((name) => {
      const said = asked.value[name]
      return said ? [[name, String(said)]] : []
    }),
  ),
)
const csv = computed(() => `/api/v1/compare.csv?${fileWords(questions.value)}`)
function setAxes(at: number, x: string, y: string) {
  const next = axes.value.map((one, index) => (index === at ? { x, y } : one))
  ask({ axes: axesText(next) })
}
/** A click on a chart over the condition reads there too. */
function pick(x_name: string, x: number) {
  const now = comparison.value
  if (!now || now.condition !== x_name || x <= 0) return
  const step = x > 100 ? 5 : x > 20 ? 1 : 0.5
  const level = Math.round(x / step) * step
  if (level > 0 && !now.levels.includes(level))
    ask({ levels: [...now.levels, level].sort((a, b) => a - b).join(',') })
}

const said = ref('')
const freezing = useWrite('snapshot', () =>
  api.POST('/api/v1/snapshots/', {
    body: {
      ...asked.value,
      title: heads.value.join(' against ').slice(0, 120) || 'A comparison',
    },
  }),
)
async function freeze() {
  said.value = ''
  const frozen = await freezing.send()
  said.value = frozen ? 'Frozen; see Publish.' : sentenceOf(freezing.problem.value)
}
const levelProblem = computed(() => fieldMessage(error.value, 'levels') ?? '')
/** Which of the subjects a run belongs to. */
const subjectOf = (run: number) =>
  comparison.value?.subjects.findIndex((one) => one.runs.includes(run)) ?? 0
</script>

<template>
  <CompareHead here="/compare" :reading="isFetching">
    <KeptComparisons
      v-if="comparison"
      :open="open"
      :asked="questions"
      :marks="noted"
      :may-write="mayWrite"
      @open="take"
    />
    <template v-if="comparison">
      <a :href="csv" download>table (CSV)</a>
      <el-button v-if="mayPublish" size="small" @click="freeze"
        >Freeze a copy for publishing</el-button
      >
      <span v-if="said" role="status">{{ said }}</span>
    </template>
  </CompareHead>
  <QuestionBar
    v-if="!nothing"
    :motor="comparison?.subjects[0]?.motor ?? inHand ?? null"
    @take="choose"
  />
  <PageState :loading="looking" :error="listError" :retry="look" />
  <section v-if="nothing && !chosen.length" class="sheet">
    <p>There is nothing to compare yet. <RouterLink to="/bench">Make a run</RouterLink> first.</p>
  </section>
  <SubjectList
    v-else-if="!looking"
    :subjects="chosen.length ? (comparison?.subjects ?? []) : []"
    :marks="marks"
    :chosen="chosen"
    :baseline="comparison?.baseline ?? null"
    :most="MOST"
    @chosen="choose"
    @baseline="ask({ baseline: String($event) })"
  />
  <ConditionBar
    v-if="comparison && chosen.length"
    :comparison="comparison"
    :problem="levelProblem"
    @ask="ask"
  />
  <PageState
    v-if="chosen.length"
    :loading="!comparison"
    :error="levelProblem && comparison ? null : error"
    :retry="refetch"
  />
  <template v-if="comparison && chosen.length && (!error || levelProblem)">
    <div class="charts">
      <CurveSheet
        v-for="(one, at) in axes"
        :key="at"
        :comparison="comparison"
        :marks="marks"
        :x="one.x"
        :y="one.y"
        :noted="noted"
        :may-mark="mayWrite"
        @axes="(x, y) => setAxes(at, x, y)"
        @pick="pick(one.x, $event)"
        @note="noted = $event"
      />
    </div>
    <p class="small soft">
      Bands are ±2u of the mean: {{ comparison.band }}. Symbols are measured points.
      <template v-if="comparison.subjects.some((one) => !one.drawn)">
        The first {{ comparison.subjects.filter((one) => one.drawn).length }} are drawn, all stand
        in the table.
      </template>
    </p>
    <LevelTable :comparison="comparison" :marks="marks" />
    <FeelSheet :comparison="comparison" :marks="marks" />
    <TorqueSheet :motors="motors" />
    <LikeWithLike :comparison="comparison">
      <template #subject="{ index }"
        ><MotorMark :motor="comparison.subjects[index]?.motor ?? 0" :mark="marks[index]" />{{
          heads[index]
        }}</template
      >
    </LikeWithLike>
    <WarmthSheet v-if="comparison.warmth" :warmth="comparison.warmth">
      <template #run="{ run }">
        <MotorMark
          :motor="comparison.subjects[subjectOf(run)]?.motor ?? 0"
          :mark="marks[subjectOf(run)]"
        /><RouterLink :to="`/runs/${run}`">{{ heads[subjectOf(run)] }}, run {{ run }}</RouterLink>
      </template>
    </WarmthSheet>
  </template>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.charts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 420px), 1fr));
  gap: 0 12px;
}
</style>
