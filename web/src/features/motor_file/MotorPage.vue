<script setup lang="ts">
/** What do we know of this motor, and how well? */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { mergedInto } from '@/api/client'
import { motorFileQuery, performanceQuery, runsQuery, teardownQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import Cutaway from '@/cutaway/Cutaway.vue'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import SamplePicker from '@/figures/SamplePicker.vue'
import { wordOf } from '@/words/words'
import AgainstSheet from './AgainstSheet.vue'
import KeyFigures from './KeyFigures.vue'
import MotorSections from './MotorSections.vue'
import PerformanceSheet from './PerformanceSheet.vue'
import { verdictOf } from './verdict'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const inHand = useInHand()
const { data: file, isPending, error, refetch } = useQuery(computed(() => motorFileQuery(id.value)))
const does = useQuery(computed(() => performanceQuery(id.value)))
const { data: runs } = useQuery(computed(() => runsQuery({ motor: id.value })))
const samples = computed(() => file.value?.motor.samples ?? [])
const picked = ref(0)
const sample = computed(
  () => samples.value.find((one) => one.id === picked.value) ?? samples.value[0] ?? null,
)
const sampleId = computed(() => sample.value?.id ?? 0)
const seen = useQuery(
  computed(() => ({ ...teardownQuery(sampleId.value), enabled: sampleId.value > 0 })),
)
const compared = computed(() => samples.value.slice(0, 4).map((one) => one.id))
watchEffect(() => {
  if (file.value) inHand.value = id.value
})
// An old address of a motor that was on the bench twice leads to the one it is.
const router = useRouter()
watchEffect(() => {
  const now = mergedInto(error.value)
  if (now !== null) void router.replace(`/motors/${now}`)
})
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="file">
    <header class="head">
      <h1><MotorMark :motor="id" />{{ file.motor.full_name }}</h1>
      <nav class="ways" aria-label="Of this motor">
        <RouterLink :to="`/intake/${id}`">Intake</RouterLink>
        <RouterLink v-if="sampleId" :to="`/teardown/${sampleId}`">Teardown</RouterLink>
        <RouterLink
          v-if="compared.length > 1"
          :to="`/teardown/compare?samples=${compared.join(',')}`"
          >Compare its samples</RouterLink
        >
        <RouterLink to="/publish">Verdict</RouterLink>
        <RouterLink v-for="other in file.family" :key="other.id" :to="`/motors/${other.id}`">{{
          other.full_name
        }}</RouterLink>
      </nav>
    </header>
    <p class="verdict">{{ verdictOf(file, does.data.value) }}</p>
    <p class="soft small">
      {{ wordOf('motor_kind', file.motor.kind ?? 'outrunner') }} ·
      <template v-if="!file.size">no size code, so that nothing is derived from one</template>
      <template v-else
        >{{ file.size.basis === 'stator' ? 'stator' : file.size.basis.replace('_', ' ') }}
        <Figure :value="file.size.diameter_mm" unit="mm" /> ×
        <Figure :value="file.size.height_mm" unit="mm" /> by its size code · stator volume
        <Figure :value="file.size.stator_volume_mm3" unit="mm³" :reason="file.size.absent_reason" />
        · height ÷ diameter <Figure :value="file.size.aspect"
      /></template>
    </p>
    <p v-if="file.size?.doubt" class="doubt" role="status">{{ file.size.doubt }}</p>

    <div class="first">
      <div class="column">
        <section class="sheet drawing">
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
          <PageState
            :loading="seen.isLoading.value"
            :error="seen.error.value"
            :retry="seen.refetch"
          />
          <Cutaway
            v-if="seen.data.value || !sampleId"
            :seen="seen.data.value?.observations ?? []"
            :size="{ code: file.motor.size_code ?? '', basis: file.motor.size_basis ?? '' }"
            :name="file.motor.full_name"
          />
        </section>
        <AgainstSheet :file="file" />
      </div>
      <div class="column">
        <KeyFigures :file="file" :performance="does.data.value" />
        <PageState
          :loading="does.isPending.value"
          :error="does.error.value"
          :retry="does.refetch"
        />
        <PerformanceSheet v-if="does.data.value" :performance="does.data.value" :motor="id" />
        <section class="sheet open-points">
          <h2>Open points</h2>
          <ul v-if="file.open_points.length">
            <li v-for="point in file.open_points" :key="point">{{ point }}</li>
          </ul>
          <p v-else class="soft">None on record.</p>
        </section>
      </div>
    </div>
    <MotorSections :file="file" :runs="runs" :teardown="seen.data.value" :sample="sample" />
  </template>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: baseline;
  gap: 4px 20px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
}
.ways a {
  min-height: 24px;
}
.verdict {
  margin: 4px 0 2px;
  font-size: 15.5px;
}
.doubt {
  background: var(--caution-soft);
  border-left: 4px solid var(--caution);
  padding: 5px 10px;
  margin: 8px 0 0;
}
.first {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 12px;
  margin-top: 8px;
  align-items: start;
}
.bar {
  display: flex;
  justify-content: space-between;
}
.open-points {
  border-left: 5px solid var(--caution);
}
ul {
  margin: 4px 0 0;
  padding-left: 18px;
}
.column {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.drawing :deep(svg) {
  max-height: 230px;
}
@media (max-width: 1100px) {
  .first {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
