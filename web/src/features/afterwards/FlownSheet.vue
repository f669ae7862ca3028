<script setup lang="ts">
/** What the flights of a craft say together: their error, the school that fits, single differences. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { flownQuery } from '@/api/afterwardsQueries'
import PageState from '@/app/PageState.vue'
import { OUTCOME_WORDS } from '@/features/compare/cells'
import Figure from '@/figures/Figure.vue'
import { count, deltaLine } from '@/figures/format'
import { errorText } from './flights'

const props = defineProps<{ craft: number }>()
const { data, isPending, error, refetch } = useQuery(computed(() => flownQuery(props.craft)))
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="data">
    <p class="says">{{ data.says }}</p>
    <table v-if="data.schools.length" class="grid">
      <thead>
        <tr>
          <th>School of flight current</th>
          <th class="num">Flight ÷ stand</th>
          <th class="num">Flown against it</th>
          <th class="num">Single flights</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in data.schools" :key="one.key">
          <td>{{ one.words }}</td>
          <td class="num"><Figure :value="one.factor.value" :u="one.factor.u" /></td>
          <td class="num">{{ errorText(one.error_pct) }}</td>
          <td class="num">{{ count(one.rms_pct) }}&#8239;%</td>
          <td>
            <strong v-if="one.fits">fits best</strong>
            <span v-else-if="one.refuted">does not fit</span>
            <span v-else class="soft">not ruled out</span>
          </td>
        </tr>
      </tbody>
    </table>
    <template v-if="data.pairs.length">
      <h3>Flights that differ in one thing</h3>
      <ul class="pairs">
        <li v-for="(one, index) in data.pairs" :key="index">
          <strong>{{ one.factor }}</strong>: {{ one.values[1] }} ({{ one.flights[1] }}) against
          {{ one.values[0] }} ({{ one.flights[0] }}): minutes
          {{ deltaLine(one.minutes_delta_pct, one.minutes_u_pct) }},
          {{ OUTCOME_WORDS[one.minutes_outcome] }}; power
          {{ deltaLine(one.power_delta_pct, one.power_u_pct) }},
          {{ OUTCOME_WORDS[one.power_outcome] }}
          <span v-if="one.unknown.length" class="soft small"
            >nobody noted: {{ one.unknown.join(', ') }}</span
          >
        </li>
      </ul>
    </template>
  </template>
</template>

<style scoped>
.says {
  margin: 2px 0 6px;
  font-size: 15px;
}
.pairs {
  margin: 2px 0;
  padding-left: 18px;
}
h3 {
  margin: 10px 0 2px;
}
</style>
