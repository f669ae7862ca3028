<script setup lang="ts">
/** Which is better, where, and is it real? */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { api, sentenceOf } from '@/api/client'
import { comparisonQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import ChartSheet from '@/charts/ChartSheet.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { runMarks } from '@/figures/motorMark'
import { firstPair } from './firstPair'
import RunPicker from './RunPicker.vue'
import { comparisonOption, comparisonTable } from './comparisonOption'
import EqualThrust from './EqualThrust.vue'
import LikeWithLike from './LikeWithLike.vue'
import { numbersIn } from './numbersIn'

const HEIGHT = 290
const route = useRoute()
const router = useRouter()
const inHand = useInHand()
const { mayPublish } = useSession()
const chosen = ref<number[]>(numbersIn(route.query.runs))
const baseline = ref<number | null>(numbersIn(route.query.baseline)[0] ?? null)
const thrusts = ref<number[]>(numbersIn(route.query.thrusts))
const pinned = ref<number | null>(null)
const said = ref('')
const client = useQueryClient()
const nothing = ref(false)
const looking = ref(!chosen.value.length)
const listError = ref<unknown>(null)

// Without runs in the address, begin with the motor in hand against its nearest like run.
async function look() {
  looking.value = true
  listError.value = null
  try {
    const pair = await firstPair(client, Number(route.query.motor) || inHand.value)
    nothing.value = !pair.length
    if (!chosen.value.length) chosen.value = pair
  } catch (failure) {
    listError.value = failure
  } finally {
    looking.value = false
  }
}
if (!chosen.value.length) void look()

const base = computed(() =>
  baseline.value !== null && chosen.value.includes(baseline.value) ? baseline.value : null,
)
const query = computed(() => comparisonQuery(chosen.value, base.value, thrusts.value))
const {
  data: comparison,
  error,
  isFetching,
  refetch,
} = useQuery(computed(() => ({ ...query.value, enabled: chosen.value.length > 0 })))
const marks = computed(() => runMarks(comparison.value?.runs.map((run) => run.motor) ?? []))

// Who is on the way elsewhere is not called back by an answer that comes late.
let leaving = false
onBeforeRouteLeave(() => {
  leaving = true
})
watch([chosen, base, thrusts], () => {
  if (leaving) return
  void router.replace({
    path: '/compare',
    query: {
      runs: chosen.value.join(',') || undefined,
      baseline: base.value ?? undefined,
      thrusts: thrusts.value.join(',') || undefined,
    },
  })
})

const VIEWS: [string, string][] = [
  ['throttle_pct', 'thrust_gf'],
  ['thrust_gf', 'efficiency_g_per_w'],
]
const csv = computed(() => {
  const words = new URLSearchParams({ runs: chosen.value.join(',') })
  if (base.value !== null) words.set('baseline', String(base.value))
  if (thrusts.value.length) words.set('thrusts', thrusts.value.join(','))
  return `/api/v1/compare.csv?${words}`
})

function pin(x: number) {
  const thrust = Math.round(x / 5) * 5
  pinned.value = thrust
  if (thrust > 0 && !thrusts.value.includes(thrust))
    thrusts.value = [...(comparison.value?.thrusts_gf ?? []), thrust].sort((a, b) => a - b)
}

const freezing = useWrite('snapshot', () =>
  api.POST('/api/v1/snapshots/', {
    body: {
      title:
        comparison.value?.runs
          .map((run) => `${run.motor_name} #${run.id}`)
          .join(' against ')
          .slice(0, 120) ?? '',
      runs: chosen.value,
      baseline: base.value,
      thrusts_gf: thrusts.value,
    },
  }),
)
async function freeze() {
  said.value = ''
  const frozen = await freezing.send()
  said.value = frozen ? 'Frozen; see Publish.' : sentenceOf(freezing.problem.value)
}
</script>

<template>
  <header class="head">
    <h1>Compare</h1>
    <span class="ways" role="navigation" aria-label="What is compared">
      <strong aria-current="page">Some runs, as curves</strong>
      <RouterLink to="/compare/bench">The whole bench</RouterLink>
    </span>
    <span v-if="isFetching" class="soft">reading…</span>
    <nav v-if="comparison">
      <a :href="csv" download>table (CSV)</a>
      <el-button v-if="mayPublish" size="small" @click="freeze"
        >Freeze a copy for publishing</el-button
      >
      <span v-if="said" role="status">{{ said }}</span>
    </nav>
  </header>
  <PageState :loading="looking" :error="listError" :retry="look" />
  <section v-if="nothing && !chosen.length" class="sheet">
    <p>There is nothing to compare yet. <RouterLink to="/bench">Make a run</RouterLink> first.</p>
  </section>
  <RunPicker
    v-else-if="!looking"
    v-model:chosen="chosen"
    v-model:baseline="baseline"
    :runs="comparison?.runs ?? []"
    :marks="marks"
  />
  <PageState v-if="chosen.length" :loading="!comparison" :error="error" :retry="refetch" />

  <template v-if="comparison && !error && chosen.length">
    <div class="charts">
      <section v-for="[x, y] in VIEWS" :key="y" class="sheet">
        <ChartSheet
          :option="
            comparisonOption(comparison, marks, x, y, x === 'thrust_gf' ? pinned : null, HEIGHT)
          "
          :table="comparisonTable(comparison, x, y)"
          :name="`compare-${y}-over-${x}`"
          :height="HEIGHT"
          :label="`${y} over ${x} of the compared runs`"
          @pick="x === 'thrust_gf' && pin($event)"
        />
      </section>
    </div>
    <EqualThrust v-model:thrusts="thrusts" :comparison="comparison" :marks="marks" />
    <LikeWithLike :comparison="comparison">
      <template #run="{ index }"
        ><MotorMark :motor="comparison.runs[index]?.motor ?? 0" :mark="marks[index]" />#{{
          comparison.runs[index]?.id
        }}</template
      >
    </LikeWithLike>
  </template>
</template>

<style scoped>
.head {
  display: flex;
  gap: 16px;
  align-items: center;
}
.head nav {
  margin-left: auto;
  display: flex;
  gap: 12px;
  align-items: center;
}
.ways {
  display: flex;
  gap: 14px;
}
.sheet {
  margin-top: 12px;
}
.charts {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 12px;
}
.charts .sheet {
  padding: 8px 6px 4px;
}
</style>
