<script setup lang="ts">
/** What was expected of the run before it was made, against what it gave. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { runExpectedQuery } from '@/api/queries'
import { columnLook } from '@/figures/columns'
import FigureCell from '@/figures/FigureCell.vue'
import { signed } from '@/figures/format'
import { headOf } from '@/words/words'
import { missWords } from './expected'

const props = defineProps<{ run: number }>()
const { data } = useQuery(computed(() => runExpectedQuery(props.run)))
/** One row has one unit, so that its two figures share their decimals. */
const rows = computed(() =>
  (data.value?.figures ?? []).map((row) => ({
    ...row,
    look: columnLook([row.predicted, row.measured]),
  })),
)
</script>

<template>
  <section v-if="rows.length" class="sheet" aria-label="Expected and measured">
    <h2>Expected and measured <span class="soft">written down before anything spun</span></h2>
    <table class="grid">
      <thead>
        <tr>
          <th>Figure</th>
          <th class="num">Expected</th>
          <th class="num">Measured</th>
          <th class="num">Off</th>
          <th>In words</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <td>{{ headOf(row.name) }}</td>
          <td class="num estimated">
            ~<FigureCell :value="row.predicted.value" :u="row.predicted.u" :look="row.look" />
          </td>
          <td class="num">
            <FigureCell
              :value="row.measured.value"
              :u="row.measured.u"
              :assumed="row.measured.assumed"
              :reason="row.measured.reason"
              :look="row.look"
            />
          </td>
          <td class="num">
            <template v-if="row.off_pct !== null"
              >{{ signed(row.off_pct, 1) }} <span class="unit">%</span></template
            >
          </td>
          <td>{{ missWords(row.z) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">It rested on: {{ data?.rests_on }}.</p>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.num {
  white-space: nowrap;
}
.estimated {
  font-style: italic;
}
p {
  margin: 6px 0 0;
}
</style>
