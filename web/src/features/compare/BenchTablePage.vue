<script setup lang="ts">
/** The whole bench under one condition: turned as motor × propeller, and row by row. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { fieldMessage } from '@/api/client'
import { type AskedTable, benchTableQuery } from '@/api/judgeQueries'
import { useLast } from '@/api/useLast'
import PageState from '@/app/PageState.vue'
import { fileWords, useAddress } from '@/app/useAddress'
import TableStill from '@/charts/TableStill.vue'
import { readTyped } from '@/figures/readNumber'
import BenchRows from './BenchRows.vue'
import { rowsStill } from './benchStills'
import BenchTableBar from './BenchTableBar.vue'
import BesideBar from './BesideBar.vue'
import CompareHead from './CompareHead.vue'
import PivotSheet from './PivotSheet.vue'

const WORDS = ['condition', 'craft', 'supply', 'figure', 'order', 'baseline', 'motors', 'also']
const { word, ask } = useAddress()
const asked = computed<AskedTable>(() => {
  const found: Record<string, unknown> = {}
  for (const name of WORDS) if (word(name)) found[name] = word(name)
  if (word('level')) {
    const typed = readTyped(word('level'))
    found.level = typed.kind === 'number' ? typed.value : word('level')
  }
  return found as AskedTable
})
const query = useQuery(computed(() => benchTableQuery(asked.value)))
const shown = useLast(query.data)
const file = computed(() => fileWords(asked.value))
const problem = computed(
  () => fieldMessage(query.error.value, 'level') || fieldMessage(query.error.value, 'also'),
)
const held = computed(() => shown.value?.rows.find((row) => row.baseline) ?? null)
const figure = computed(() => shown.value?.pivot.name ?? 'thrust_gf')
</script>

<template>
  <CompareHead here="/compare/bench" :reading="query.isFetching.value">
    <a :href="`/api/v1/compare/bench.csv?${file}`" download>CSV</a>
    <a :href="`/api/v1/compare/bench.xlsx?${file}`" download>XLSX</a>
  </CompareHead>
  <BenchTableBar :shown="shown" :figure="figure" />
  <BesideBar v-if="shown?.rows.length" :shown="shown" />
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  <PageState
    :loading="query.isPending.value"
    :error="problem && shown ? null : query.error.value"
    :retry="query.refetch"
  />
  <section v-if="shown && !shown.supplies.length" class="sheet">
    <h2>Nothing to compare yet</h2>
    <p>
      A table of the bench holds every motor on every propeller that was
      <RouterLink to="/bench">run</RouterLink> or <RouterLink to="/readings">typed in</RouterLink>.
    </p>
  </section>
  <template v-else-if="shown">
    <PivotSheet class="part" :shown="shown" :figure="figure" />
    <section class="sheet part" aria-label="Row by row">
      <h2>
        {{
          held
            ? `Held against ${held.motor_name} on ${held.propeller_name}`
            : 'Each held against the row before'
        }}
        <el-button v-if="held" size="small" text @click="ask({ baseline: undefined })"
          >against the row before</el-button
        >
        <TableStill name="bench-rows" :table="() => rowsStill(shown!)" />
      </h2>
      <BenchRows :rows="shown.rows" :groups="shown.groups" @hold="ask({ baseline: $event })" />
      <p class="small soft">
        Means over samples and runs; what samples of a model differ by is in ±.
        <template v-if="shown.condition === 'full'"
          >Full throttle is the headline that is quoted most: it compares motors at whatever thrust
          and power each of them happens to reach.</template
        >
        <template v-if="shown.unreviewed">
          {{ shown.unreviewed }} of the runs nobody has reviewed yet; rejected ones do not count.
        </template>
        <template v-if="shown.more">{{ ' ' }}{{ shown.more }} more motors are not shown.</template>
      </p>
    </section>
  </template>
</template>

<style scoped>
.part {
  margin-bottom: 12px;
}
.problem {
  color: var(--stop);
}
</style>
