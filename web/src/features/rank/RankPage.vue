<script setup lang="ts">
/** Who wins for which use, and how surely? */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { fieldMessage } from '@/api/client'
import { rankingQuery } from '@/api/judgeQueries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import MotorMark from '@/figures/MotorMark.vue'
import { askedFrom, toggled, type WeightMap, weightsText } from './asked'
import KeptRankings from './KeptRankings.vue'
import RankJudgement from './RankJudgement.vue'
import RankTable from './RankTable.vue'
import WeightsPanel from './WeightsPanel.vue'

const route = useRoute()
const router = useRouter()
const { mayWrite } = useSession()
const asked = computed(() => askedFrom(route.query))
const query = useQuery(computed(() => rankingQuery(asked.value)))
const shown = query.data

function ask(changes: Record<string, string | undefined>) {
  void router.replace({
    query: {
      ...route.query,
      ...Object.fromEntries(
        Object.entries(changes).map(([key, value]) => [key, value || undefined]),
      ),
    },
  })
}
const word = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '')
const weigh = (weights: WeightMap) => ask({ weights: weightsText(weights), use: undefined })
const use = (name: string) => ask({ use: name === 'equal' ? undefined : name, weights: undefined })
const leaveOut = (motor: number) => ask({ without: toggled(word('without'), motor) })

const BOUNDS = [
  { name: 'most_mass_g', label: 'Mass up to', unit: 'g' },
  { name: 'most_price', label: 'Price up to', unit: '' },
  { name: 'cells', label: 'Flies on', unit: 'cells' },
  { name: 'thrust_gf', label: 'gf/W at', unit: 'gf' },
  { name: 'shaft_power_w', label: 'Shaft efficiency at', unit: 'W' },
] as const
const texts = reactive<Record<string, string>>({})
watch(
  () => route.query,
  () => {
    for (const one of BOUNDS) texts[one.name] = word(one.name)
  },
  { immediate: true },
)
const sizes = computed({
  get: () => word('sizes').split(',').filter(Boolean),
  set: (picked: string[]) => ask({ sizes: picked.join(',') }),
})
const unranked = computed(() => shown.value?.rows.filter((row) => row.place == null) ?? [])
const currency = computed(() => shown.value?.currency ?? '')
const unitOf = (one: (typeof BOUNDS)[number]) =>
  one.name === 'most_price' ? currency.value : one.unit
</script>

<template>
  <header class="head">
    <h1>Rank</h1>
    <span v-if="query.isFetching.value" class="soft">reckoning…</span>
  </header>
  <div class="bar">
    <label class="load"
      >Runs on
      <el-select
        :model-value="shown?.load ?? ''"
        aria-label="Runs on"
        size="small"
        @update:model-value="ask({ load: String($event) })"
      >
        <el-option
          v-for="one in shown?.loads"
          :key="one.key"
          :value="one.key"
          :label="`${one.words} (${one.motors} motor${one.motors === 1 ? '' : 's'})`"
        />
      </el-select>
    </label>
    <el-select
      v-model="sizes"
      multiple
      collapse-tags
      clearable
      size="small"
      class="sizes"
      aria-label="Sizes"
      placeholder="every size"
    >
      <el-option v-for="one in shown?.sizes" :key="one" :value="one" :label="one" />
    </el-select>
    <form
      v-for="one in BOUNDS"
      :key="one.name"
      class="bound"
      @submit.prevent="ask({ [one.name]: texts[one.name] })"
    >
      <label :for="`bound-${one.name}`">{{ one.label }}</label>
      <el-input
        :id="`bound-${one.name}`"
        v-model="texts[one.name]"
        size="small"
        inputmode="decimal"
        autocomplete="off"
        placeholder="any"
        @change="ask({ [one.name]: String($event) })"
      />
      <span class="soft">{{ unitOf(one) }}</span>
      <p v-if="fieldMessage(query.error.value, one.name)" class="problem" role="alert">
        {{ fieldMessage(query.error.value, one.name) }}
      </p>
    </form>
    <el-checkbox
      :model-value="word('fill') === 'yes'"
      size="small"
      @update:model-value="ask({ fill: $event ? 'yes' : undefined })"
      >let runs on other propellers stand in, estimated</el-checkbox
    >
  </div>
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
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  margin: 6px 0 10px;
  font-size: 13px;
}
.load {
  display: flex;
  align-items: center;
  gap: 6px;
}
.load .el-select {
  width: 330px;
}
.sizes {
  width: 150px;
}
.bound {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px;
}
.bound .el-input {
  width: 62px;
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
.problem {
  flex-basis: 100%;
  margin: 0;
  color: var(--stop);
}
@media (max-width: 1100px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
