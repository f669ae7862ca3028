<script setup lang="ts">
/** A motor's life after its first runs: hours, what befell it, wear, flights, letters, points. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { afterwardsQuery } from '@/api/afterwardsQueries'
import type { Schemas } from '@/api/client'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { hoursText } from '@/features/afterwards/flights'
import FlightTable from '@/features/afterwards/FlightTable.vue'
import PhotoStrip from '@/features/photos/PhotoStrip.vue'
import FollowUpForm from '@/features/afterwards/FollowUpForm.vue'
import FollowUpList from '@/features/afterwards/FollowUpList.vue'
import LetterForm from '@/features/afterwards/LetterForm.vue'
import LetterRow from '@/features/afterwards/LetterRow.vue'
import { OUTCOME_WORDS } from '@/features/compare/cells'
import Figure from '@/figures/Figure.vue'
import { deltaLine } from '@/figures/format'
import { readNumber } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import { labelOf, unitOf } from '@/words/words'
import IncidentSheet from './IncidentSheet.vue'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const motor = computed(() => props.file.motor.id)
const { mayWrite } = useSession()
/** Hours of use after which a sample is held against its first runs. */
const typedHours = ref('1')
const HOURS = [0.05, 10_000] as const
const hours = refDebounced(typedHours, 400)
const wearHours = computed(() => {
  const number = readNumber(hours.value)
  return number !== null && number >= HOURS[0] && number <= HOURS[1] ? number : undefined
})
const query = useQuery(
  computed(() => ({
    ...afterwardsQuery(motor.value, wearHours.value),
    placeholderData: keepPreviousData,
  })),
)
const { data, isPending, error, refetch } = query
const reported = computed(() => {
  const { count, failures } = data.value?.reports ?? { count: 0, failures: [] }
  if (!count) return ''
  const failed = failures.map((one) => `${one.words} ${one.count}×`).join(', ')
  return `${count} ${count === 1 ? 'reader reports' : 'readers report'}${failed ? `: ${failed}` : ', no failure'}. Quoted, and counted apart from what was seen here.`
})
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <div v-if="data" class="after">
    <div class="columns">
      <section aria-labelledby="used">
        <h3 id="used">Hours and starts</h3>
        <table v-if="data.samples.length" class="grid">
          <thead>
            <tr>
              <th>Sample</th>
              <th class="num">On the bench</th>
              <th class="num">In the air</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in data.samples" :key="one.sample">
              <td>{{ one.mark }}</td>
              <td class="num">
                {{ hoursText(one.bench_h) }}, {{ one.bench_starts }} ×
                <span v-if="one.untimed" class="soft small"
                  >{{ one.untimed }} typed, time unknown</span
                >
              </td>
              <td class="num">{{ hoursText(one.flown_h) }}, {{ one.flown_starts }} ×</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="soft">No sample is here.</p>
        <h3>Worn?</h3>
        <NumberField v-model="typedHours" inline label="After" unit="h" :within="HOURS" />
        <table v-if="data.worn.length" class="grid">
          <tbody>
            <tr v-for="(one, at) in data.worn" :key="at">
              <td>{{ one.mark }}, {{ one.load }}</td>
              <td>{{ labelOf(one.name) }}</td>
              <td class="num">
                <Figure :value="one.first.value" :u="one.first.u" :unit="unitOf(one.name)" /> →
                <Figure :value="one.now.value" :u="one.now.u" :unit="unitOf(one.name)" />
              </td>
              <td class="num">{{ deltaLine(one.delta_pct, one.u_pct) }}</td>
              <td>{{ OUTCOME_WORDS[one.outcome] }} after {{ hoursText(one.hours) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="soft small">
          No sample was run again after {{ data.wear_hours }}&#8239;h of use under a load that it
          was first run under.
        </p>
      </section>
      <section aria-labelledby="befell">
        <h3 id="befell">What befell it</h3>
        <ol v-if="data.timeline.length" class="timeline">
          <li v-for="(one, at) in data.timeline" :key="at" :class="one.kind">
            <span class="soft small day">{{ one.on }}</span>
            <span>
              <template v-if="one.mark">{{ one.mark }}: </template>{{ one.words }}
              <span v-if="one.destroyed" class="tag over">destroyed</span>
              <span class="soft small">
                {{ one.note }}
                <template v-if="one.hours !== null"> · {{ hoursText(one.hours) }} so far</template>
              </span>
              <PhotoStrip
                v-if="one.incident && one.sample"
                compact
                :sample="one.sample"
                :mark="one.mark"
                :incident="one.incident"
              />
            </span>
          </li>
        </ol>
        <p v-else class="soft">Nothing yet.</p>
        <IncidentSheet :file="file" />
      </section>
    </div>
    <section aria-labelledby="points">
      <h3 id="points">Points that wait</h3>
      <FollowUpList v-if="data.follow_ups.length" :points="data.follow_ups" />
      <FollowUpForm v-if="mayWrite" :motor="motor" />
    </section>
    <section aria-labelledby="flown">
      <h3 id="flown">Flights</h3>
      <FlightTable v-if="data.flights.length" :flights="data.flights" />
      <p v-else class="soft">It did not fly yet.</p>
      <p class="small"><RouterLink to="/afterwards">Note a flight</RouterLink></p>
    </section>
    <section aria-labelledby="written">
      <h3 id="written">Readers and makers</h3>
      <p v-if="reported">{{ reported }}</p>
      <ul class="list">
        <LetterRow v-for="one in data.letters" :key="one.id" :letter="one" />
      </ul>
      <details v-if="mayWrite">
        <summary>Note what somebody wrote</summary>
        <LetterForm :motor="motor" />
      </details>
    </section>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 24px;
}
h3 {
  margin: 12px 0 4px;
}
.list,
.timeline {
  margin: 0;
  padding: 0;
  list-style: none;
}
.timeline li {
  display: flex;
  gap: 10px;
  padding: 3px 0 3px 10px;
  border-left: 3px solid var(--rule);
}
.timeline .incident {
  border-left-color: var(--stop);
}
.timeline .report {
  border-left-style: dotted;
  border-left-color: var(--ink-soft);
}
.day {
  flex: 0 0 84px;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    gap: 0;
  }
}
</style>
