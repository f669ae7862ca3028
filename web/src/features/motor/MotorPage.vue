<script setup lang="ts">
/** What do we know of this motor, and how well? */
import { useQuery } from '@tanstack/vue-query'
import { computed, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import { motorFileQuery, runsQuery, teardownQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import Cutaway from '@/cutaway/Cutaway.vue'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import RunTable from '@/features/runs/RunTable.vue'
import { dateTime } from '@/figures/format'
import ClaimSheet from './ClaimSheet.vue'
import ObservationList from './ObservationList.vue'
import SampleAdder from './SampleAdder.vue'

const id = Number(useRoute().params.id)
const inHand = useInHand()
const { data: file, isPending, error, refetch } = useQuery(motorFileQuery(id))
const { data: runs } = useQuery(runsQuery({ motor: id }))
const samples = computed(() => file.value?.motor.samples ?? [])
const firstSample = computed(() => samples.value[0]?.id ?? 0)
const { data: teardown } = useQuery(
  computed(() => ({ ...teardownQuery(firstSample.value), enabled: firstSample.value > 0 })),
)
watchEffect(() => {
  if (file.value) inHand.value = id
})
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="file">
    <header class="head">
      <h1><MotorMark :motor="id" />{{ file.motor.full_name }}</h1>
      <p class="soft">
        {{ file.size.basis === 'stator' ? 'Stator' : 'Outside' }}
        <Figure :value="file.size.diameter_mm" unit="mm" /> ×
        <Figure :value="file.size.height_mm" unit="mm" /> by its size code · stator volume
        <Figure :value="file.size.stator_volume_mm3" unit="mm³" :reason="file.size.absent_reason" />
        · aspect <Figure :value="file.size.aspect" />
      </p>
    </header>

    <section v-if="teardown || !firstSample" class="sheet drawing">
      <h2>
        To scale
        <span v-if="samples[0]" class="soft"
          >from the teardown of sample {{ samples[0].mark }}</span
        >
      </h2>
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
        <ClaimSheet :motor="file.motor" :claims="file.claims" :remarks="file.remarks" />
        <section class="sheet">
          <h2>Samples</h2>
          <table class="grid">
            <thead>
              <tr>
                <th>Mark</th>
                <th>Turns</th>
                <th>Obtained</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="sample in samples" :key="sample.id">
                <td>{{ sample.mark }}</td>
                <td>{{ sample.turning }}</td>
                <td>{{ sample.obtained?.replace('_', ' ') }}</td>
                <td><RouterLink :to="`/teardown/${sample.id}`">Take apart</RouterLink></td>
              </tr>
            </tbody>
          </table>
          <SampleAdder :motor="id" :taken="samples.map((sample) => sample.mark)" />
        </section>
      </div>
      <section class="sheet">
        <h2>
          Seen inside
          <span v-if="samples[0]" class="soft">sample {{ samples[0].mark }}</span>
        </h2>
        <ObservationList v-if="teardown" :sheet="teardown" :sample="firstSample" />
      </section>
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

    <section class="sheet">
      <h2>History of changes</h2>
      <table class="grid small">
        <tbody>
          <tr v-for="(change, index) in file.changes" :key="index">
            <td class="soft">{{ dateTime(change.at) }}</td>
            <td>{{ change.who }}</td>
            <td>{{ change.kind }} {{ change.what }}</td>
            <td>
              <span v-for="field in change.changed" :key="field.field">
                {{ field.field }}: {{ field.before }} → {{ field.after }}
              </span>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </template>
</template>

<style scoped>
.head p {
  margin: 4px 0 0;
}
.drawing {
  margin-top: 14px;
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
