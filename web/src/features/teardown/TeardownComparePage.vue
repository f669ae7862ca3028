<script setup lang="ts">
/** How do they differ inside? Two to four samples, one scale, the differences first. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { motorOfSampleQuery, teardownComparisonQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import MotorMark from '@/figures/MotorMark.vue'
import SampleField from '@/forms/SampleField.vue'
import CompareRows from './CompareRows.vue'
import CompareArguments from './CompareArguments.vue'
import CompareClaims from './CompareClaims.vue'
import DrawingSheet from './DrawingSheet.vue'
import { chosenSamples } from './comparing'

const MOST = 4
const route = useRoute()
const router = useRouter()
const chosen = computed(() => chosenSamples(String(route.query.samples ?? '')))
// At most four; each is asked for by its sample, however many motors there are.
const motors = Array.from(
  { length: MOST },
  (_, at) => useQuery(computed(() => motorOfSampleQuery(chosen.value[at] ?? null))).data,
)
const comparison = useQuery(computed(() => teardownComparisonQuery(chosen.value)))
const table = computed(() => (chosen.value.length > 1 ? comparison.data.value : undefined))

const everything = ref(false)

const named = computed(() =>
  chosen.value.map((id, at) => {
    const motor = motors[at]?.value
    const mark = motor?.samples.find((sample) => sample.id === id)?.mark
    return motor && mark
      ? { id, motor: motor.id, name: `${motor.full_name} ${mark}` }
      : { id, motor: 0, name: `sample number ${id}` }
  }),
)
const added = ref<number | null>(null)
watch(added, (id) => {
  if (id) choose([...chosen.value, id])
  added.value = null
})
const heads = computed(() =>
  (table.value?.samples ?? []).map((sample) => `${sample.motor_name} ${sample.mark}`),
)
const shorts = computed(() =>
  (table.value?.samples ?? []).map((sample) => `${sample.motor_short} ${sample.mark}`),
)
const drawn = computed(() =>
  (table.value?.samples ?? []).map((sample, at) => ({
    name: heads.value[at] ?? '',
    seen: table.value?.observations[at] ?? [],
    size: { code: sample.size_code, basis: sample.size_basis },
  })),
)
const different = computed(
  () => (table.value?.rows ?? []).filter((row) => row.outcome === 'different').length,
)
const csv = computed(
  () =>
    `/api/v1/teardown/compare.csv?samples=${chosen.value.join(',')}${everything.value ? '' : '&differences=1'}`,
)

function choose(ids: number[]) {
  void router.replace({ query: { samples: ids.join(',') } })
}
</script>

<template>
  <h1>Teardown compare</h1>
  <section class="sheet choice">
    <ul aria-label="Samples in the comparison">
      <li v-for="one in named" :key="one.id">
        <MotorMark :motor="one.motor" />{{ one.name }}
        <el-button link size="small" @click="choose(chosen.filter((other) => other !== one.id))"
          >Take out<span class="visually-hidden"> {{ one.name }}</span></el-button
        >
      </li>
    </ul>
    <SampleField
      v-if="chosen.length < MOST"
      v-model="added"
      class="adder"
      label="Add a sample"
      :without="chosen"
    />
    <p v-if="chosen.length < 2" class="soft">
      Choose two to four samples: of one motor, of two winds, or of rivals.
    </p>
  </section>
  <PageState
    v-if="chosen.length > 1"
    :loading="comparison.isPending.value"
    :error="comparison.error.value"
    :retry="comparison.refetch"
  />
  <template v-if="table">
    <DrawingSheet :motors="drawn" />
    <section class="sheet">
      <div class="bar">
        <h2>
          {{ everything ? 'Everything' : 'Differences' }}
          <span class="soft">({{ different }} differ)</span>
        </h2>
        <span>
          <el-checkbox v-model="everything">show what is the same too</el-checkbox>
          <a :href="csv">table (CSV)</a>
        </span>
      </div>
      <CompareRows :rows="table.rows" :heads="heads" :everything="everything" />
    </section>
    <CompareClaims :claims="table.claims" :heads="heads" />
    <div class="columns">
      <CompareArguments :arguments="table.arguments" :shorts="shorts" />
      <section class="sheet">
        <h2>Nobody knows yet</h2>
        <template v-for="(one, at) in table.unknown" :key="one.sample">
          <h3>{{ heads[at] }}</h3>
          <p v-if="!one.labels.length" class="soft">Everything was looked at.</p>
          <p v-else class="small">
            {{ one.labels.join(' · ') }}.
            <RouterLink :to="`/teardown/${one.sample}`">Look</RouterLink>
          </p>
        </template>
      </section>
    </div>
  </template>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
.choice ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
}
.adder {
  max-width: 420px;
}
.bar {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
.bar > span {
  display: flex;
  gap: 14px;
  align-items: center;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 14px;
  align-items: start;
}
h3 {
  margin: 10px 0 2px;
}
</style>
