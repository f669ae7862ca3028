<script setup lang="ts">
/** One figure of the whole bench, motor by propeller: as a table or as bars, and what to run next. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import TableStill from '@/charts/TableStill.vue'
import FigureBars from '@/figures/FigureBars.vue'
import { labelOf, unitOf } from '@/words/words'
import { groupWords } from './bench'
import { pivotBars, pivotStill } from './benchStills'
import PivotTable from './PivotTable.vue'

const props = defineProps<{ shown: Schemas['BenchTable']; figure: string }>()
const router = useRouter()
const { mayWrite } = useSession()
const bars = ref(false)
const title = computed(() => {
  const first = props.shown.groups[0]
  return `${labelOf(props.figure)}, ${first ? groupWords(first) : ''}`
})
const run = (motor: number, propeller: number | null) =>
  void router.push({ path: '/bench', query: { motor, propeller: propeller ?? undefined } })
const planning = useWrite('campaign', async (body: Schemas['NewCampaignRequest']) =>
  dataOf(await api.POST('/api/v1/campaigns/', { body })),
)
async function plan(what: {
  title: string
  samples: number[]
  propellers: number[]
  supplies: number[]
}) {
  const { samples, propellers, supplies } = what
  const title = what.title.slice(0, 120)
  const made = await planning.send({ title, question: 'comparison', samples, propellers, supplies })
  if (made) await router.push({ path: '/plan', query: { campaign: made.id } })
}
</script>

<template>
  <section class="sheet" aria-label="Motor by propeller">
    <h2>
      {{ title }}
      <el-button size="small" text @click="bars = !bars">{{
        bars ? 'as a table' : 'as bars'
      }}</el-button>
      <TableStill v-if="!bars" name="bench" :table="() => pivotStill(shown)" />
    </h2>
    <FigureBars v-if="bars" :rows="pivotBars(shown.pivot)" :unit="unitOf(figure)" :title="title" />
    <PivotTable
      v-else
      :pivot="shown.pivot"
      :may-run="mayWrite"
      :planning="planning.busy.value"
      @run="run"
      @plan="plan"
    />
    <p v-if="planning.problem.value" class="problem" role="alert">
      {{ sentenceOf(planning.problem.value) }}
    </p>
    <p v-for="one in shown.same" :key="one.propeller_name + one.motors[0]?.motor" class="small">
      {{ one.motors.map((motor) => motor.name).join(' and ') }} perform the same on
      {{ one.propeller_name }}: shown to within 2 % in all that is compared.
    </p>
  </section>
</template>

<style scoped>
.problem {
  color: var(--stop);
}
</style>
