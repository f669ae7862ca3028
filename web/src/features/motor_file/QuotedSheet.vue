<script setup lang="ts">
/** What other benches measured of this motor: quoted, with their grade, apart from what is ours. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { quotedQuery } from '@/api/otherBenchQueries'
import PageState from '@/app/PageState.vue'
import OffsetChart from '@/features/benches/OffsetChart.vue'
import Figure from '@/figures/Figure.vue'
import { labelOf, unitOf } from '@/words/words'

const props = defineProps<{ motor: number }>()
const { data, isPending, error, refetch } = useQuery(computed(() => quotedQuery(props.motor)))
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <p v-if="data && !data.length" class="soft">
    No other bench is quoted on this motor.
    <RouterLink to="/compare/benches">Quote one's data pack</RouterLink>
  </p>
  <section v-for="one in data" :key="`${one.bench}/${one.subject}`" class="quoted">
    <h3>
      <RouterLink :to="`/compare/benches?bench=${one.bench}`">{{ one.bench_name }}</RouterLink>
      <span class="soft small">
        edition {{ one.edition }} of {{ one.issued_on }} ·
        {{ one.licence || 'licence not said' }}</span
      >
    </h3>
    <p v-if="one.sentence">“{{ one.sentence }}”</p>
    <p class="small">{{ one.grade_line }}</p>
    <p v-if="one.figures.length" class="figures">
      <span v-for="figure in one.figures" :key="figure.name"
        ><span class="soft small label">{{ labelOf(figure.name) }}</span
        ><Figure
          :value="figure.figure.value"
          :u="figure.figure.u"
          :unit="unitOf(figure.name)"
          :assumed="figure.figure.assumed"
      /></span>
    </p>
    <div v-if="one.loads.length" class="wide">
      <table class="grid">
        <thead>
          <tr>
            <th>At full throttle, quoted</th>
            <th v-for="figure in one.loads[0]?.figures" :key="figure.name" class="num">
              {{ labelOf(figure.name) }}
            </th>
            <th class="num">Samples</th>
            <th class="num">Runs</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="load in one.loads" :key="load.load">
            <td>{{ load.load }}</td>
            <td v-for="figure in load.figures" :key="figure.name" class="num">
              <Figure
                :value="figure.figure.value"
                :u="figure.figure.u"
                :unit="unitOf(figure.name)"
                :reason="figure.figure.reason"
                :assumed="figure.figure.assumed"
              />
            </td>
            <td class="num">{{ load.samples }}</td>
            <td class="num">{{ load.runs }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <template v-if="one.offsets.length">
      <h3>Held against our own runs</h3>
      <OffsetChart :offsets="one.offsets" />
    </template>
  </section>
</template>

<style scoped>
.quoted + .quoted {
  margin-top: 16px;
  padding-top: 10px;
  border-top: 1px solid var(--rule);
}
.quoted p {
  margin: 3px 0;
}
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
}
.label {
  margin-right: 6px;
}
.wide {
  overflow-x: auto;
  margin: 6px 0 10px;
}
h3 {
  margin: 8px 0 2px;
}
</style>
