<script setup lang="ts">
/** Which is better, where, and is it real? Runs, repeats, samples and models as curves. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { api, fieldMessage, sentenceOf } from '@/api/client'
import type { Schemas } from '@/api/client'
import { comparisonQuery, savedComparisonsQuery } from '@/api/compareQueries'
import { useLast } from '@/api/useLast'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import MotorMark from '@/figures/MotorMark.vue'
import { runMarks } from '@/figures/motorMark'
import { ASKED_NAMES, askedIn, axesIn, axesText, numbersIn } from './asked'
import CompareHead from './CompareHead.vue'
import ConditionBar from './ConditionBar.vue'
import { type ChartMark, shortNames } from './curves'
import CurveSheet from './CurveSheet.vue'
import FeelSheet from './FeelSheet.vue'
import { firstPair } from './firstPair'
import KeptComparisons from './KeptComparisons.vue'
import LevelTable from './LevelTable.vue'
import LikeWithLike from './LikeWithLike.vue'
import QuestionBar from './QuestionBar.vue'
import SubjectList from './SubjectList.vue'
import TorqueSheet from './TorqueSheet.vue'
import WarmthSheet from './WarmthSheet.vue'

const MOST = 160
const route = useRoute()
const router = useRouter()
const inHand = useInHand()
const { mayPublish, mayWrite } = useSession()
const client = useQueryClient()
const asked = computed(() => askedIn(route.query))
const chosen = computed(() => numbersIn(asked.value.runs))
const open = computed(() => Number(route.query.saved) || null)
const nothing = ref(false)
const looking = ref(false)
const listError = ref<unknown>(null)
const noted = ref<ChartMark[]>([])

// Who is on the way elsewhere is not called back by an answer that comes late.
let leaving = false
onBeforeRouteLeave(() => {
  leaving = true
})
function ask(changes: Record<string, string | undefined>) {
  if (leaving) return
  const now = Object.fromEntries(
    Object.entries(changes).map(([key, value]) => [key, value || undefined]),
  )
  void router.replace({ path: '/compare', query: { ...route.query, ...now } })
}
const choose = (runs: readonly number[], by?: string) =>
  ask({ runs: runs.join(','), ...(by ? { by, baseline: undefined } : {}) })

// Without runs in the address: the kept comparison it names, or the motor in hand against its
// nearest like run.
async function look() {
  looking.value = true
  listError.value = null
  try {
    if (open.value) {
      const kept = await client.fetchQuery(savedComparisonsQuery())
      const one = kept.find((row) => row.id === open.value)
      if (one) return take(one)
    }
    const pair = await firstPair(client, Number(route.query.motor) || inHand.value)
    nothing.value = !pair.length
    if (!chosen.value.length && pair.length) choose(pair)
  } catch (failure) {
    listError.value = failure
  } finally {
    looking.value = false
  }
}
function take(saved: Schemas['SavedComparison'] | null) {
  if (saved) noted.value = [...saved.marks]
  if (leaving) return
  void router.replace({
    path: '/compare',
    query: saved ? { ...saved.asked, saved: saved.id } : { ...route.query, saved: undefined },
  })
}
if (!chosen.value.length) void look()
else if (open.value)
  // Its marks come with it; what the address asks goes before what was kept.
  void client
    .fetchQuery(savedComparisonsQuery())
    .then((kept) => {
      const one = kept.find((row) => row.id === open.value)
      if (one) noted.value = [...one.marks]
    })
    .catch(() => undefined)

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
const csv = computed(() => `/api/v1/compare.csv?${new URLSearchParams(questions.value)}`)
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
