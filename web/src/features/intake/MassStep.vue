<script setup lang="ts">
/** What does it weigh at one lead length? Weighings as they were, cut leads, samples side by side. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import LengthDeclared from './LengthDeclared.vue'
import LeadTable from './LeadTable.vue'
import MeasureFields from './MeasureFields.vue'
import { asRead } from './typed'
import RecordTable from './RecordTable.vue'
import WeighingForm from './WeighingForm.vue'
import PreparationForm from './PreparationForm.vue'

const props = defineProps<{ file: Schemas['MotorFile']; sample: number }>()
const { mayWrite } = useSession()
const masses = computed(() => props.file.masses)
const row = computed(() => masses.value.samples.find((one) => one.sample === props.sample))
/** A spread needs no more than two digits. */
const brief = (value: number) => Number(value.toPrecision(2))
const OF_LEADS = [
  'lead_gauge',
  'lead_insulation',
  'offcut_mass',
  'offcut_length',
  'nut_mass',
  'connector_mass',
]
</script>

<template>
  <div class="halves">
    <section v-if="row" class="sheet">
      <h2>Sample {{ row.mark }} on the scale</h2>
      <RecordTable
        :head="['Mass', 'Leads', 'With', 'On', 'Note']"
        :numeric="[0, 1]"
        kind="weighings"
        :records="row.weighings"
        empty="Not weighed yet."
      >
        <template #cells="{ record }">
          <td class="num">
            <span class="figure"
              >{{ asRead(record.mass_g, record.resolution_g) }}<span class="unit">g</span></span
            >
            <div v-if="record.typed" class="soft small">{{ record.typed }}</div>
          </td>
          <td class="num">
            <Figure :value="record.lead_length_mm" unit="mm" reason="lead length not noted" />
          </td>
          <td class="small">
            {{ record.nut_on ? 'nut' : '' }} {{ record.connectors_on ? 'connectors' : '' }}
            {{ record.nut_on || record.connectors_on ? '' : 'leads only' }}
          </td>
          <td class="soft small">{{ record.weighed_on }}</td>
          <td class="small">
            {{ record.note }} <span v-if="record.id === row?.used" class="tag within">used</span>
          </td>
        </template>
      </RecordTable>
      <WeighingForm v-if="mayWrite" :key="row.sample" :sample="row.sample" />
      <h3>Leads, nut and connectors</h3>
      <MeasureFields :sample="sample" :keys="OF_LEADS" />
      <h3>What was done to it</h3>
      <p class="soft small">
        Cutting leads cannot be undone: it changes the mass and the resistance.
      </p>
      <RecordTable
        :head="['What', 'Leads now', 'On', 'Note']"
        :numeric="[1]"
        kind="preparations"
        :records="row.preparations"
        empty="Nothing yet."
      >
        <template #cells="{ record }">
          <td>{{ record.label }}</td>
          <td class="num"><Figure :value="record.lead_length_mm" unit="mm" /></td>
          <td class="soft small">{{ record.done_on }}</td>
          <td class="small">{{ record.note }}</td>
        </template>
      </RecordTable>
      <PreparationForm v-if="mayWrite" :key="`p${row.sample}`" :sample="row.sample" />
    </section>
    <section class="sheet">
      <h2>At <LengthDeclared :length="masses.lead_length_mm" /> of lead, no nut</h2>
      <table class="grid">
        <thead>
          <tr>
            <th>Sample</th>
            <th class="num">Mass</th>
            <th class="num">One lead</th>
            <th>by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in masses.samples" :key="one.sample">
            <td>{{ one.mark }}</td>
            <td class="num">
              <Figure
                :value="one.mass_g.value"
                :u="one.mass_g.u"
                unit="g"
                :reason="one.mass_g.reason"
                :estimated="one.mass_g.origin === 'estimated'"
              />
            </td>
            <td class="num">
              <Figure
                :value="one.lead_g_per_m.value"
                :u="one.lead_g_per_m.u"
                unit="g/m"
                :reason="one.lead_g_per_m.reason"
                :estimated="one.lead_g_per_m.origin === 'estimated'"
              />
            </td>
            <td class="soft small">{{ one.lead_from || one.mass_g.reason }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="masses.spread" class="reading">
        {{ masses.spread.n }} samples: mean <Figure :value="masses.spread.mean" unit="g" />, s
        <Figure :value="brief(masses.spread.s)" unit="g" />, widest gap
        <Figure :value="brief(masses.spread.widest)" unit="g" />.
        {{
          masses.spread.resolved
            ? 'The samples differ by more than their uncertainty explains.'
            : 'No more than their uncertainty explains.'
        }}
      </p>
      <p v-else class="soft">A spread needs two weighed samples.</p>
      <template v-for="one in masses.samples" :key="one.sample">
        <p v-for="remark in one.remarks" :key="remark" class="doubt">
          {{ one.mark }}: {{ remark }}
        </p>
      </template>
      <p class="soft small">
        The mass per metre comes from two weighings at two lengths, else from a weighed off-cut,
        else from the bench's table of leads, else it is estimated from the gauge. A lead's length
        is taken as ± 1 mm.
      </p>
      <LeadTable />
    </section>
  </div>
</template>

<style scoped src="./intake.css"></style>
