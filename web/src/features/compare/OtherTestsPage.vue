<script setup lang="ts">
/** What runs of the other kinds say over the whole bench, and all motors at one kV. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { type AskedKinds, kindTableQuery } from '@/api/compareQueries'
import PageState from '@/app/PageState.vue'
import { fileWords, useAddress } from '@/app/useAddress'
import TableStill from '@/charts/TableStill.vue'
import FigureBars from '@/figures/FigureBars.vue'
import { labelOf, unitOf } from '@/words/words'
import CompareHead from './CompareHead.vue'
import KindTable from './KindTable.vue'
import OneKvSheet from './OneKvSheet.vue'
import { kindBars, kindColumns, kindStill } from './otherTests'

const { word, ask } = useAddress()
const asked = computed<AskedKinds>(() => ({
  kind: word('kind') || undefined,
  baseline: word('baseline') || undefined,
}))
const query = useQuery(computed(() => kindTableQuery(asked.value)))
const shown = query.data
const barred = ref('')
const bars = computed(() => {
  if (!shown.value) return []
  const at = kindColumns(shown.value).find((one) => one.name === barred.value)
  return at ? kindBars(shown.value, at.index) : []
})
const held = computed(() => shown.value?.rows.find((row) => row.baseline) ?? null)
const csv = computed(() => `/api/v1/compare/tests.csv?${fileWords(asked.value)}`)
const kv = computed(() => shown.value?.kind === 'no_load')
</script>

<template>
  <CompareHead here="/compare/tests" :reading="query.isFetching.value">
    <a v-if="shown?.rows.length" :href="csv" download>CSV</a>
  </CompareHead>
  <PageState :loading="query.isPending.value" :error="query.error.value" :retry="query.refetch" />
  <section v-if="shown && !shown.kinds.length" class="sheet">
    <h2>No other tests yet</h2>
    <p>
      kV without a propeller, torque on the flywheel, response, heat and bursts stand here once they
      were <RouterLink to="/bench">run</RouterLink>.
    </p>
  </section>
  <template v-else-if="shown">
    <el-segmented
      :model-value="shown.kind"
      class="kinds"
      :options="shown.kinds.map((one) => ({ value: one.kind, label: one.label }))"
      aria-label="Kind of run"
      @update:model-value="ask({ kind: String($event), baseline: undefined })"
    />
    <section class="sheet" aria-label="Row by row">
      <h2>
        {{
          held
            ? `Held against ${held.motor_name}, ${held.load}`
            : 'Each held against the row before'
        }}
        <el-button v-if="held" size="small" text @click="ask({ baseline: undefined })"
          >against the row before</el-button
        >
        <TableStill name="tests" :table="() => kindStill(shown!)" />
      </h2>
      <KindTable
        v-model:barred="barred"
        :shown="shown"
        :kv="kv"
        @hold="ask({ baseline: $event })"
      />
      <template v-if="bars.length">
        <h3>{{ labelOf(barred) }}</h3>
        <FigureBars :rows="bars" :unit="unitOf(barred)" :title="labelOf(barred)" />
      </template>
      <p class="small soft">
        Means over samples and runs; what samples of a model differ by is in ±.
        <template v-if="kv"
          >kV is freed of R·I where the motor's resistance is identified.</template
        >
        <template v-if="shown.more"> {{ shown.more }} more motors are not shown.</template>
      </p>
    </section>
  </template>
  <OneKvSheet />
</template>

<style scoped>
.kinds {
  margin: 8px 0 10px;
}
.sheet {
  margin-bottom: 12px;
}
</style>
