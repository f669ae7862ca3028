<script setup lang="ts">
/** Who wins for which use, and how surely? */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { rankingQuery } from '@/api/judgeQueries'
import PageState from '@/app/PageState.vue'
import { useAddress } from '@/app/useAddress'
import { useSession } from '@/app/useSession'
import MotorMark from '@/figures/MotorMark.vue'
import { askedFrom, toggled, type WeightMap, weightsText } from './asked'
import CohortBar from './CohortBar.vue'
import KeptRankings from './KeptRankings.vue'
import RankJudgement from './RankJudgement.vue'
import RankTable from './RankTable.vue'
import WeightsPanel from './WeightsPanel.vue'

const route = useRoute()
const { word, ask } = useAddress()
const { mayWrite } = useSession()
const asked = computed(() => askedFrom(route.query))
const query = useQuery(computed(() => rankingQuery(asked.value)))
const shown = query.data

const weigh = (weights: WeightMap) => ask({ weights: weightsText(weights), use: undefined })
const use = (name: string) => ask({ use: name === 'equal' ? undefined : name, weights: undefined })
const leaveOut = (motor: number) => ask({ without: toggled(word('without'), motor) })

const unranked = computed(() => shown.value?.rows.filter((row) => row.place == null) ?? [])
</script>

<template>
  <header class="head">
    <h1>Rank</h1>
    <span v-if="query.isFetching.value" class="soft">reckoning…</span>
  </header>
  <CohortBar :shown="shown" :refusal="query.error.value" />
  <PageState :loading="query.isPending.value" :error="query.error.value" :retry="query.refetch" />
  <section v-if="shown && !shown.rows.length && !shown.fallen_out.length" class="sheet">
    <h2>Nobody to rank yet</h2>
    <p>
      A ranking scores motors by what their runs measured.
      <RouterLink to="/bench">Run</RouterLink> two motors on one propeller first, or
      <RouterLink to="/readings">type in</RouterLink> what a scale and a watt meter say.
    </p>
  </section>
  <div v-else-if="shown" class="work">
    <div class="main">
      <RankJudgement :ranking="shown" :may-write="mayWrite" />
      <section class="sheet table" aria-label="The cohort">
        <RankTable :ranking="shown" :may-write="mayWrite" @leave-out="leaveOut" />
        <p class="small soft">
          Score: 100 × value ÷ the cohort's mean, for “less is better” its harmonic mean ÷ value;
          the weighted mean of what is there. Places: 2,000 draws from every figure's uncertainty,
          with what a stand shares shared. Per gram and per price: the score × the cohort's mean ÷
          the motor's own.
          {{ shown.remarks.join(' ') }}
        </p>
      </section>
      <section v-if="unranked.length" class="sheet" aria-label="Not ranked">
        <h2>Not ranked</h2>
        <ul class="fallen">
          <li v-for="one in unranked" :key="one.motor">
            <MotorMark :motor="one.motor" /><RouterLink :to="`/motors/${one.motor}`">{{
              one.full_name
            }}</RouterLink
            >: {{ one.why_unranked }}.
            <span v-for="words in one.warnings" :key="words" class="tag caution">{{ words }}</span>
          </li>
        </ul>
      </section>
      <section v-if="shown.fallen_out.length" class="sheet" aria-label="Left out">
        <h2>Left out</h2>
        <ul class="fallen">
          <li v-for="one in shown.fallen_out" :key="one.motor">
            {{ one.full_name }}: {{ one.why }}.
            <el-button
              v-if="word('without').split(',').includes(String(one.motor))"
              size="small"
              text
              @click="leaveOut(one.motor)"
              >Take it back in</el-button
            >
          </li>
        </ul>
      </section>
      <KeptRankings :asked="asked" :may-write="mayWrite" />
    </div>
    <WeightsPanel
      class="side"
      :measures="shown.measures"
      :may-write="mayWrite"
      @weigh="weigh"
      @use="use"
    />
  </div>
</template>

<style scoped>
.head {
  display: flex;
  gap: 16px;
  align-items: baseline;
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 12px;
  align-items: start;
}
.main > .sheet {
  margin-bottom: 12px;
}
.table {
  padding: 6px 8px 10px;
}
.fallen {
  margin: 4px 0 0;
  padding-left: 18px;
}
@media (max-width: 1100px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
