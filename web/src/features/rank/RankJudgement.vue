<script setup lang="ts">
/** What the scores say in words: how sure the lead is, what would swap it, what would settle it. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { shareText } from './asked'

const props = defineProps<{ ranking: Schemas['Ranking']; mayWrite: boolean }>()
const router = useRouter()
const settle = computed(() => props.ranking.settle ?? null)
const mountable = computed(() => Boolean(settle.value?.sample && settle.value.supply))
/** A campaign needs a propeller; a flywheel run or one without is only set up. */
const plannable = computed(() => mountable.value && Boolean(settle.value?.propeller))

const planning = useWrite('campaign', async (body: Schemas['NewCampaignRequest']) =>
  dataOf(await api.POST('/api/v1/campaigns/', { body })),
)
async function plan() {
  const one = settle.value
  if (!one?.sample || !one.propeller || !one.supply) return
  const made = await planning.send({
    title:
      `Who leads? One more of ${props.ranking.rows.find((row) => row.motor === one.motor)?.full_name ?? 'it'}`.slice(
        0,
        120,
      ),
    question: 'comparison',
    samples: [one.sample],
    propellers: [one.propeller],
    supplies: [one.supply],
    note: one.sentence,
  })
  if (made) await router.push({ path: '/plan', query: { campaign: made.id } })
}
function setUp() {
  const one = settle.value
  if (!one?.sample) return
  void router.push({
    path: '/bench',
    query: {
      sample: one.sample,
      propeller: one.propeller ?? undefined,
      supply: one.supply ?? undefined,
    },
  })
}
</script>

<template>
  <section class="sheet judgement" aria-label="What can be said">
    <p v-if="ranking.leader" class="lead">
      <strong>{{ ranking.leader.full_name }}</strong> has the highest score; that it is really first
      is <strong class="figure">{{ shareText(ranking.leader.probability) }}</strong> sure.
      {{ ranking.ties.join(' ') }}
    </p>
    <p v-else class="lead">
      A ranking needs two motors that were run under the same load. Choose another load, or let runs
      on other propellers stand in.
    </p>
    <p v-if="ranking.price_of_lead">{{ ranking.price_of_lead }}</p>
    <p v-if="ranking.swap">{{ ranking.swap.sentence }}</p>
    <div v-if="settle" class="settle">
      <p>{{ settle.sentence }}</p>
      <template v-if="mayWrite">
        <el-button v-if="plannable" size="small" :loading="planning.busy.value" @click="plan"
          >Put it into the plan</el-button
        >
        <el-button v-if="mountable" size="small" @click="setUp">Set it up at the bench</el-button>
        <span v-if="!mountable" class="small soft">No such sample is at hand.</span>
        <p v-if="planning.problem.value" class="problem" role="alert">
          {{ sentenceOf(planning.problem.value) }}
        </p>
      </template>
    </div>
    <p v-if="ranking.left_open" class="open">{{ ranking.left_open }}</p>
    <p v-for="one in ranking.families" :key="one.sentence" class="family">
      {{ one.sentence }} Call them one family.
    </p>
    <ul v-if="ranking.beaten.length">
      <li v-for="one in ranking.beaten" :key="one.worse">{{ one.sentence }}</li>
    </ul>
  </section>
</template>

<style scoped>
.judgement p {
  margin: 0 0 6px;
}
.lead {
  font-size: 16px;
}
.settle {
  border-left: 4px solid var(--copper);
  padding-left: 10px;
  margin: 8px 0;
}
.family {
  border-left: 4px solid var(--within);
  padding-left: 10px;
}
ul {
  margin: 4px 0 0;
  padding-left: 18px;
}
.problem {
  color: var(--stop);
}
</style>
