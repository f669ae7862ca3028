<script setup lang="ts">
/** Were the predictions right? Per figure, over every accepted run that had one. */
import { useQuery } from '@tanstack/vue-query'
import { hindsightQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { formatNumber, signed } from '@/figures/format'
import { labelOf } from '@/words/words'

const { data, isPending, error, refetch } = useQuery(hindsightQuery())
const VERDICTS: Record<string, string> = {
  too_few: 'too few to tell',
  right: 'the stated u is right',
  too_small: 'the stated u is too small',
  too_large: 'the stated u is larger than it need be',
}
const share = (value: number | null) => (value === null ? '—' : `${formatNumber(100 * value, 0)} %`)
const number = (value: number | null) => (value === null ? '—' : formatNumber(value, 2))
</script>

<template>
  <section class="sheet" aria-label="Were the predictions right?">
    <h2>
      Were the predictions right?
      <span class="soft">over accepted runs that ran to their end</span>
    </h2>
    <PageState :loading="isPending" :error="error" :retry="refetch" />
    <p v-if="data && !data.figures.length" class="soft">
      No accepted run had a prediction yet; the next one on the bench will.
    </p>
    <table v-else-if="data" class="grid">
      <thead>
        <tr>
          <th>Figure</th>
          <th class="num">Runs</th>
          <th class="num">Median miss</th>
          <th class="num">Within one u<br /><small>68 % expected</small></th>
          <th class="num">Within two u<br /><small>95 % expected</small></th>
          <th class="num">Misses ÷ u<br /><small>1 expected</small></th>
          <th>So</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in data.figures" :key="row.name">
          <td>{{ labelOf(row.name) }}</td>
          <td class="num">{{ row.count }}</td>
          <td class="num">
            <template v-if="row.bias_pct !== null">{{ signed(row.bias_pct, 1) }} %</template>
          </td>
          <td class="num">{{ share(row.within_1u) }}</td>
          <td class="num">{{ share(row.within_2u) }}</td>
          <td class="num">
            {{ number(row.scale) }}
            <span class="soft small">({{ number(row.low) }} to {{ number(row.high) }})</span>
          </td>
          <td>{{ VERDICTS[row.verdict] }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
small {
  font-weight: 400;
  color: var(--ink-soft);
}
.grid {
  width: 100%;
}
</style>
