<script setup lang="ts">
/** What a motor is tested with: stands with what they declare, supplies, propellers. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { propellersQuery, standsQuery, suppliesQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import CommonSizes from './CommonSizes.vue'
import HubRow from './HubRow.vue'
import PropellerAdder from './PropellerAdder.vue'
import RigAdder from './RigAdder.vue'

const stands = useQuery(standsQuery())
const supplies = useQuery(suppliesQuery())
const propellers = useQuery(propellersQuery())
const { mayWrite } = useSession()
const chosenOpen = ref<boolean | null>(null)
/** An empty library begins with them. */
const common = computed({
  get: () => chosenOpen.value ?? propellers.data.value?.length === 0,
  set: (open) => (chosenOpen.value = open),
})
</script>

<template>
  <h1>Rig</h1>
  <PageState
    :loading="stands.isPending.value"
    :error="stands.error.value"
    :retry="stands.refetch"
  />
  <section v-if="stands.data.value" class="sheet">
    <h2>Stands</h2>
    <table class="grid">
      <thead>
        <tr>
          <th>Stand</th>
          <th class="num">Repeatability of one run</th>
          <th class="num">Calibration</th>
          <th>Note</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="stand in stands.data.value" :key="stand.id">
          <td>{{ stand.name }} <span v-if="stand.live" class="tag within">live</span></td>
          <td class="num"><Figure :value="100 * stand.repeatability_rel" unit="%" /></td>
          <td class="num"><Figure :value="100 * stand.calibration_rel" unit="%" /></td>
          <td class="soft">{{ stand.note }}</td>
        </tr>
      </tbody>
    </table>
    <RigAdder v-if="mayWrite" what="stand" />
    <p class="small soft declared">
      Relative standard uncertainties, as declared for the stand. Comparisons on one stand share its
      calibration, so that part cancels.
    </p>
  </section>
  <div class="columns">
    <section class="sheet">
      <h2>Supplies</h2>
      <table class="grid">
        <thead>
          <tr>
            <th>Supply</th>
            <th class="num">Nominal</th>
            <th class="num">Resistance</th>
            <th class="num">Trips at</th>
            <th class="num">Capacity</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="supply in supplies.data.value" :key="supply.id">
            <td>{{ supply.name }}</td>
            <td class="num"><Figure :value="supply.nominal_voltage_v" unit="V" /></td>
            <td class="num"><Figure :value="1000 * supply.resistance_ohm" unit="mΩ" /></td>
            <td class="num">
              <Figure :value="supply.trip_a" unit="A" reason="a pack does not trip" />
            </td>
            <td class="num">
              <Figure :value="supply.capacity_mah" unit="mAh" reason="a bench supply has none" />
            </td>
          </tr>
        </tbody>
      </table>
      <RigAdder v-if="mayWrite" what="supply" />
      <p class="small caution">
        Packs: charge and store them in a fire-safe place, keep them off the prop's plane, never
        below their floor. The maker's instructions come first.
      </p>
    </section>
    <section class="sheet">
      <div class="bar">
        <h2>Propellers</h2>
        <el-button v-if="mayWrite" size="small" :aria-expanded="common" @click="common = !common"
          >Common sizes</el-button
        >
      </div>
      <CommonSizes v-if="mayWrite" :open="common" />
      <p v-if="propellers.data.value && !propellers.data.value.length" class="soft">
        None yet: take common sizes, or add your own below.
      </p>
      <table v-else class="grid">
        <thead>
          <tr>
            <th>Propeller</th>
            <th class="num">Diameter</th>
            <th class="num">Bore, mm</th>
            <th class="num">Hub, mm</th>
            <th class="num">Hole circle, mm</th>
            <th class="num">Holes, mm</th>
          </tr>
        </thead>
        <tbody>
          <HubRow
            v-for="propeller in propellers.data.value"
            :key="propeller.id"
            :propeller="propeller"
          />
        </tbody>
      </table>
      <PropellerAdder v-if="mayWrite" />
    </section>
  </div>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 14px;
  align-items: start;
}
.caution {
  border-left: 4px solid var(--caution);
  background: var(--caution-soft);
  padding: 6px 10px;
  margin-top: 10px;
}
.bar {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.declared {
  margin: 8px 0 0;
}
@media (max-width: 1150px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
