<script setup lang="ts">
/** Everything else on file, one section at a time; the address names it. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { owedQuery } from '@/api/queries'
import { useRouteQuery } from '@/app/useRouteQuery'
import type { Schemas } from '@/api/client'
import PhotoStrip from '@/features/photos/PhotoStrip.vue'
import OwedCells from '@/features/runs/OwedCells.vue'
import RunTable from '@/features/runs/RunTable.vue'
import AfterwardsSheet from './AfterwardsSheet.vue'
import ExpectationList from './ExpectationList.vue'
import HistorySheet from './HistorySheet.vue'
import IdentifiedSheet from './IdentifiedSheet.vue'
import ObservationList from './ObservationList.vue'
import PeerList from './PeerList.vue'
import QuotedSheet from './QuotedSheet.vue'
import SampleSheet from './SampleSheet.vue'

const props = defineProps<{
  file: Schemas['MotorFile']
  runs?: readonly Schemas['Run'][]
  teardown?: Schemas['TeardownSheet']
  sample: Schemas['Sample'] | null
}>()
const { data: owed } = useQuery(computed(() => owedQuery({ motor: props.file.motor.id })))
const shown = useRouteQuery('look', 'inside')
const counted = (word: string, many: number) => (many ? `${word} (${many})` : word)
const live = () => props.file.incidents.filter((one) => !one.struck_reason).length
</script>

<template>
  <el-tabs v-model="shown" class="sections" aria-label="Sections of the motor file">
    <el-tab-pane
      name="inside"
      :label="counted('Measured and seen', teardown?.observations.length ?? 0)"
      lazy
    >
      <p v-if="sample" class="soft small">Sample {{ sample.mark }}; another is chosen above.</p>
      <ObservationList v-if="teardown && sample" :sheet="teardown" :sample="sample.id" />
      <p v-else class="soft">No sample to look into.</p>
    </el-tab-pane>
    <el-tab-pane name="constants" label="Constants" lazy>
      <IdentifiedSheet :motor="file.motor.id" />
    </el-tab-pane>
    <el-tab-pane name="runs" :label="counted('Runs', runs?.length ?? 0)" lazy>
      <RunTable v-if="runs?.length" :runs="runs" />
      <p v-else class="soft">
        No run yet.
        <RouterLink :to="`/bench?motor=${file.motor.id}`">Make the first on the bench</RouterLink>
        or <RouterLink to="/import">import a log</RouterLink>.
      </p>
    </el-tab-pane>
    <el-tab-pane
      v-if="owed?.results.length"
      name="footage"
      :label="counted('From footage', owed.count)"
      lazy
    >
      <OwedCells :cells="owed.results" :count="owed.count" />
    </el-tab-pane>
    <el-tab-pane name="samples" :label="counted('Samples', file.motor.samples.length)" lazy>
      <SampleSheet :file="file" />
    </el-tab-pane>
    <el-tab-pane name="photos" label="Photos" lazy>
      <PhotoStrip v-if="sample" :sample="sample.id" :mark="sample.mark" />
      <p v-else class="soft">No sample to take a photo of.</p>
    </el-tab-pane>
    <el-tab-pane name="expected" :label="counted('Expected', file.expectations.length)" lazy>
      <ExpectationList :expectations="file.expectations" />
      <p>
        <RouterLink :to="`/intake/${file.motor.id}/peers`">Note what you expect</RouterLink>
      </p>
    </el-tab-pane>
    <el-tab-pane name="peers" :label="counted('Peers', file.peers.length)" lazy>
      <PeerList :peers="file.peers" />
    </el-tab-pane>
    <el-tab-pane name="quoted" label="Other benches" lazy>
      <QuotedSheet :motor="file.motor.id" />
    </el-tab-pane>
    <el-tab-pane name="afterwards" :label="counted('Afterwards', live())" lazy>
      <AfterwardsSheet :file="file" />
    </el-tab-pane>
    <el-tab-pane name="history" label="History" lazy>
      <HistorySheet :changes="file.changes" />
    </el-tab-pane>
  </el-tabs>
</template>

<style scoped>
.sections {
  margin-top: 14px;
}
.sections :deep(.sheet) {
  border: 0;
  background: none;
  padding: 0;
}
</style>
