<script setup lang="ts">
/** The samples side by side: direction, parcel, mass at one lead length, and their spread. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import SampleAdder from './SampleAdder.vue'
import { wordOf } from '@/words/words'
import { formatNumber } from '@/figures/format'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const masses = computed(() => props.file.masses)
const massOf = (sample: number) => masses.value.samples.find((row) => row.sample === sample)
function obtained(sample: Schemas['Sample']): string {
  const row = props.file.parcels.find((one) => one.parcel.id === sample.parcel)
  return row ? (wordOf('obtained', row.parcel.obtained ?? 'unknown') ?? '') : '—'
}
const gone = (sample: number) =>
  props.file.incidents.some((one) => one.sample === sample && one.destroyed && !one.struck_reason)
</script>

<template>
  <section class="sheet">
    <h2>Samples</h2>
    <table class="grid">
      <thead>
        <tr>
          <th>Mark</th>
          <th>Turns</th>
          <th>Obtained</th>
          <th class="num">Mass at {{ masses.lead_length_mm }} mm of lead</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="sample in file.motor.samples" :key="sample.id">
          <td>{{ sample.mark }} <span v-if="gone(sample.id)" class="tag over">destroyed</span></td>
          <td>{{ wordOf('turning', sample.turning ?? 'unknown') }}</td>
          <td>{{ obtained(sample) }}</td>
          <td class="num">
            <Figure
              :value="massOf(sample.id)?.mass_g.value"
              :u="massOf(sample.id)?.mass_g.u"
              unit="g"
              :reason="massOf(sample.id)?.mass_g.reason"
              :estimated="massOf(sample.id)?.mass_g.origin === 'estimated'"
            />
          </td>
          <td><RouterLink :to="`/teardown/${sample.id}`">Take apart</RouterLink></td>
        </tr>
      </tbody>
    </table>
    <p v-if="masses.spread" class="soft small">
      Spread of {{ masses.spread.n }}: s
      <Figure :value="Number(masses.spread.s.toPrecision(2))" unit="g" />, widest gap
      <Figure :value="Number(masses.spread.widest.toPrecision(2))" unit="g" />{{
        masses.spread.resolved ? '' : ', no more than their uncertainty explains'
      }}.
    </p>
    <p v-else class="soft small">One weighed sample has no spread.</p>
    <ul class="parcels">
      <li v-for="row in file.parcels" :key="row.parcel.id" class="small">
        {{ wordOf('obtained', row.parcel.obtained ?? 'unknown')
        }}<template v-if="row.parcel.obtained_from"> from {{ row.parcel.obtained_from }}</template
        >:
        <template v-if="row.price.amount !== null"
          ><span class="figure" :class="{ estimated: row.price.guessed }"
            >{{ row.price.guessed ? '~' : '' }}{{ formatNumber(row.price.amount, 2)
            }}<span class="unit">{{ row.price.currency }}</span></span
          >
          {{ row.price.basis
          }}<template v-if="row.parcel.priced_on">, {{ row.parcel.priced_on }}</template></template
        >
        <template v-else>{{ row.price.basis }}</template>
      </li>
    </ul>
    <SampleAdder :motor="file.motor.id" :taken="file.motor.samples.map((sample) => sample.mark)" />
  </section>
</template>

<style scoped>
.parcels {
  margin: 6px 0 0;
  padding-left: 18px;
}
p {
  margin: 6px 0 0;
}
</style>
