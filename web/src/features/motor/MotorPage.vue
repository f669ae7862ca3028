<script setup lang="ts">
/** What do we know of this motor, and how well? */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import { motorFileQuery, runsQuery, teardownQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import Cutaway from '@/cutaway/Cutaway.vue'
import PhotoStrip from '@/features/photos/PhotoStrip.vue'
import RunTable from '@/features/runs/RunTable.vue'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import SamplePicker from '@/figures/SamplePicker.vue'
import AgainstSheet from './AgainstSheet.vue'
import ExpectationList from './ExpectationList.vue'
import HistorySheet from './HistorySheet.vue'
import IncidentSheet from './IncidentSheet.vue'
import ObservationList from './ObservationList.vue'
import PeerList from './PeerList.vue'
import SampleSheet from './SampleSheet.vue'
import { wordOf } from '@/words/words'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const inHand = useInHand()
const { data: file, isPending, error, refetch } = useQuery(computed(() => motorFileQuery(id.value)))
const { data: runs } = useQuery(computed(() => runsQuery({ motor: id.value })))
const samples = computed(() => file.value?.motor.samples ?? [])
const picked = ref(0)
const sample = computed(
  () => samples.value.find((one) => one.id === picked.value) ?? samples.value[0] ?? null,
)
const sampleId = computed(() => sample.value?.id ?? 0)
const {
  data: teardown,
  isLoading: teardownLoading,
  error: teardownError,
  refetch: refetchTeardown,
} = useQuery(computed(() => ({ ...teardownQuery(sampleId.value), enabled: sampleId.value > 0 })))
const compared = computed(() => samples.value.slice(0, 4).map((one) => one.id))
watchEffect(() => {
  if (file.value) inHand.value = id.value
})
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="file">
    <header class="head">
      <div>
        <h1><MotorMark :motor="id" />{{ file.motor.full_name }}</h1>
        <p class="soft">
          {{ wordOf('motor_kind', file.motor.kind ?? 'outrunner') }} ·
          {{ file.size.basis === 'stator' ? 'stator' : file.size.basis.replace('_', ' ') }}
          <Figure :value="file.size.diameter_mm" unit="mm" /> ×
          <Figure :value="file.size.height_mm" unit="mm" /> by its size code · stator volume
          <Figure
            :value="file.size.stator_volume_mm3"
            unit="mm³"
            :reason="file.size.absent_reason"
          />
          · height ÷ diameter <Figure :value="file.size.aspect" />
        </p>
      </div>
      <p class="ways">
        <RouterLink :to="`/intake/${id}`">Intake</RouterLink>
        <RouterLink v-if="sampleId" :to="`/teardown/${sampleId}`">Teardown</RouterLink>
        <RouterLink
          v-if="compared.length > 1"
          :to="`/teardown/compare?samples=${compared.join(',')}`"
          >Compare its samples</RouterLink
        >
        <RouterLink v-for="other in file.family" :key="other.id" :to="`/motors/${other.id}`">{{
          other.full_name
        }}</RouterLink>
      </p>
    </header>
    <p v-if="file.size.doubt" class="doubt" role="status">{{ file.size.doubt }}</p>

    <PageState :loading="teardownLoading" :error="teardownError" :retry="refetchTeardown" />
    <section v-if="teardown || !sampleId" class="sheet drawing">
      <div class="bar">
        <h2>
          To scale
          <span v-if="sample" class="soft">from the teardown of sample {{ sample.mark }}</span>
        </h2>
        <SamplePicker
          v-if="samples.length > 1"
          :samples="samples"
          :chosen="sampleId"
          @choose="picked = $event"
        />
      </div>
      <Cutaway
        :seen="teardown?.observations ?? []"
        :size="{ code: file.motor.size_code, basis: file.motor.size_basis }"
        :name="file.motor.full_name"
      />
    </section>

    <div class="columns">
      <div class="column">
        <section class="sheet open-points">
          <h2>Open points</h2>
          <ul v-if="file.open_points.length">
            <li v-for="point in file.open_points" :key="point">{{ point }}</li>
          </ul>
          <p v-else class="soft">None on record.</p>
        </section>
        <AgainstSheet :file="file" />
        <SampleSheet :file="file" />
        <section class="sheet">
          <h2>Expected</h2>
          <ExpectationList :expectations="file.expectations" />
        </section>
        <section class="sheet">
          <h2>Peers on the bench</h2>
          <PeerList :peers="file.peers" />
        </section>
        <IncidentSheet :file="file" />
      </div>
      <div class="column">
        <section class="sheet">
          <h2>
            Photos <span v-if="sample" class="soft">sample {{ sample.mark }}</span>
          </h2>
          <PhotoStrip v-if="sample" :sample="sample.id" :mark="sample.mark" />
        </section>
        <section class="sheet">
          <h2>
            Measured and seen <span v-if="sample" class="soft">sample {{ sample.mark }}</span>
          </h2>
          <ObservationList v-if="teardown" :sheet="teardown" :sample="sampleId" />
        </section>
      </div>
    </div>

    <section class="sheet">
      <h2>Runs</h2>
      <RunTable v-if="runs?.length" :runs="runs" />
      <p v-else class="soft">
        No run yet.
        <RouterLink :to="`/bench?motor=${id}`">Make the first on the bench</RouterLink> or
        <RouterLink to="/import">import a log</RouterLink>.
      </p>
    </section>
    <HistorySheet :changes="file.changes" />
  </template>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  gap: 20px;
}
.head p {
  margin: 4px 0 0;
}
.ways {
  display: flex;
  flex-direction: column;
  text-align: right;
  white-space: nowrap;
}
.ways a {
  min-height: 24px;
  line-height: 24px;
}
.doubt {
  background: var(--caution-soft);
  border-left: 4px solid var(--caution);
  padding: 5px 10px;
  margin: 8px 0 0;
}
.drawing {
  margin-top: 12px;
}
.bar {
  display: flex;
  justify-content: space-between;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 14px;
  margin-top: 14px;
  align-items: start;
}
.column {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.sheet + .sheet,
.columns + .sheet {
  margin-top: 14px;
}
.column .sheet + .sheet {
  margin-top: 0;
}
.open-points {
  border-left: 5px solid var(--caution);
}
ul {
  margin: 6px 0 0;
  padding-left: 18px;
}
h2 {
  margin-bottom: 4px;
}
@media (max-width: 1100px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
