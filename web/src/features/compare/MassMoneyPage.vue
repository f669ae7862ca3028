<script setup lang="ts">
/** What each motor weighs and costs, and what that buys. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { type AskedMass, massQuery } from '@/api/compareQueries'
import PageState from '@/app/PageState.vue'
import { fileWords, useAddress } from '@/app/useAddress'
import TableStill from '@/charts/TableStill.vue'
import FigureBars from '@/figures/FigureBars.vue'
import CompareHead from './CompareHead.vue'
import { massBars, massColumns, massStill } from './massMoney'
import MassTable from './MassTable.vue'

const { word, ask } = useAddress()
const asked = computed<AskedMass>(() => ({
  load: word('load') || undefined,
  baseline: Number(word('baseline')) || undefined,
}))
const query = useQuery(computed(() => massQuery(asked.value)))
const shown = query.data
const barred = ref('')
const barredColumn = computed(
  () => shown.value && massColumns(shown.value).find((one) => one.name === barred.value),
)
const bars = computed(() =>
  shown.value && barredColumn.value ? massBars(shown.value, barred.value) : [],
)
const held = computed(() => shown.value?.rows.find((row) => row.baseline) ?? null)
const csv = computed(() => `/api/v1/compare/mass.csv?${fileWords(asked.value)}`)
</script>

<template>
  <CompareHead here="/compare/mass" :reading="query.isFetching.value">
    <a v-if="shown?.rows.length" :href="csv" download>CSV</a>
  </CompareHead>
  <PageState :loading="query.isPending.value" :error="query.error.value" :retry="query.refetch" />
  <section v-if="shown && !shown.rows.length" class="sheet">
    <h2>No motors yet</h2>
    <p>Motors that were <RouterLink to="/intake">taken in</RouterLink> and weighed stand here.</p>
  </section>
  <template v-else-if="shown">
    <div class="choices">
      <label
        >Thrust on
        <el-select
          :model-value="shown.load"
          size="small"
          filterable
          default-first-option
          aria-label="Load of the thrust"
          class="load"
          placeholder="no runs yet"
          @update:model-value="ask({ load: String($event) })"
        >
          <el-option
            v-for="one in shown.loads"
            :key="one.key"
            :value="one.key"
            :label="`${one.words} (${one.motors} motors)`"
          />
        </el-select>
      </label>
      <span v-if="held"
        >held against {{ held.motor_name }}
        <el-button size="small" text @click="ask({ baseline: undefined })"
          >against nobody</el-button
        ></span
      >
    </div>
    <section class="sheet" aria-label="Motor by motor">
      <h2>Motor by motor <TableStill name="mass-and-money" :table="() => massStill(shown!)" /></h2>
      <MassTable v-model:barred="barred" :shown="shown" @hold="ask({ baseline: String($event) })" />
      <template v-if="bars.length && barredColumn">
        <h3>{{ barredColumn.label }}</h3>
        <FigureBars :rows="bars" :unit="barredColumn.unit" :title="barredColumn.label" />
      </template>
      <p class="small soft">
        {{ shown.trend_words }} {{ shown.copper_words }}
        <template v-if="shown.more"> {{ shown.more }} more motors are not shown.</template>
      </p>
    </section>
    <section v-if="shown.choosing.length" class="sheet" aria-label="What a gram and a price buy">
      <h2>What a gram and a price buy</h2>
      <p v-for="sentence in shown.choosing" :key="sentence">{{ sentence }}</p>
    </section>
  </template>
</template>

<style scoped>
.load {
  width: 330px;
}
.sheet {
  margin-bottom: 12px;
}
.sheet p {
  margin: 6px 0 0;
}
</style>
