<script setup lang="ts">
/** What to run: motor sample, propeller, supply, stand, plateaus, limits and air. */
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { motorsQuery, propellersQuery, standsQuery, suppliesQuery } from '@/api/queries'
import { useInHand } from '@/app/useInHand'
import { duration } from '@/figures/format'
import { type BenchDraft, profileSeconds, readLevels } from './setup'

const props = defineProps<{ wantedMotor: number | null; disabled: boolean }>()
const draft = defineModel<BenchDraft>({ required: true })
const inHand = useInHand()
const { data: motors } = useQuery(motorsQuery())
const { data: propellers } = useQuery(propellersQuery())
const { data: supplies } = useQuery(suppliesQuery())
const { data: stands } = useQuery(standsQuery())
const live = computed(() => stands.value?.filter((stand) => stand.live) ?? [])
const supply = computed(() => supplies.value?.find((item) => item.id === draft.value.supply))

watch(
  [motors, live, supplies, propellers],
  () => {
    const samples = motors.value?.flatMap((motor) => motor.samples) ?? []
    const motorId = props.wantedMotor ?? inHand.value
    const known = samples.some((sample) => sample.id === draft.value.sample)
    const ofMotor = samples.filter((sample) => sample.motor === motorId)
    const keeps = ofMotor.some((sample) => sample.id === draft.value.sample)
    if (
      motors.value &&
      ((!known && motorId === null) || (motorId !== null && ofMotor.length && !keeps))
    )
      draft.value.sample = ofMotor[0]?.id ?? null
    if (live.value.length === 1) draft.value.stand = live.value[0]?.id ?? null
    if (supplies.value && !supply.value) draft.value.supply = null
    if (propellers.value && !propellers.value.some((item) => item.id === draft.value.propeller))
      draft.value.propeller = null
  },
  { immediate: true },
)
watch(
  () => draft.value.sample,
  (id) => {
    const motor = motors.value?.find((row) => row.samples.some((sample) => sample.id === id))
    if (motor) inHand.value = motor.id
  },
)
// Each supply brings its own floor; the reviewer may change it afterwards.
watch(
  () => draft.value.supply,
  (now, before) => {
    if (supply.value && (now !== before || !draft.value.voltage_floor_v))
      draft.value.voltage_floor_v = supply.value.floor_v.toFixed(1)
  },
)

const time = computed(() => {
  const levels = readLevels(draft.value.levels)
  const seconds = levels
    ? profileSeconds(levels, Number(draft.value.dwell_s), Number(draft.value.ramp_pct_per_s))
    : NaN
  return Number.isFinite(seconds) ? duration(seconds) : '—'
})
</script>

<template>
  <fieldset :disabled="disabled">
    <label for="sample">Motor and sample</label>
    <select id="sample" v-model="draft.sample">
      <option :value="null" disabled>choose</option>
      <optgroup v-for="motor in motors" :key="motor.id" :label="motor.full_name">
        <option v-for="sample in motor.samples" :key="sample.id" :value="sample.id">
          {{ motor.full_name }} · {{ sample.mark }}
        </option>
      </optgroup>
    </select>
    <label for="propeller">Propeller</label>
    <select id="propeller" v-model="draft.propeller">
      <option :value="null" disabled>choose</option>
      <option v-for="item in propellers" :key="item.id" :value="item.id">
        {{ item.full_name }}
      </option>
    </select>
    <label for="supply">Supply</label>
    <select id="supply" v-model="draft.supply">
      <option :value="null" disabled>choose</option>
      <option v-for="item in supplies" :key="item.id" :value="item.id">{{ item.name }}</option>
    </select>
    <label for="stand">Stand</label>
    <select id="stand" v-model="draft.stand">
      <option v-for="item in live" :key="item.id" :value="item.id">{{ item.name }}</option>
    </select>
    <p v-if="stands && !live.length" class="note">
      No live stand yet: <RouterLink to="/rig">add one in the rig</RouterLink>.
    </p>
    <label for="levels">Plateaus, % throttle</label>
    <input id="levels" v-model="draft.levels" class="figures" />
    <div class="row">
      <label>Dwell, s <input v-model="draft.dwell_s" class="figures" inputmode="decimal" /></label>
      <label
        >Ramp, %/s <input v-model="draft.ramp_pct_per_s" class="figures" inputmode="decimal"
      /></label>
      <div class="takes">
        takes<br /><strong>{{ time }}</strong>
      </div>
    </div>
    <h2>Cut at</h2>
    <div class="row">
      <label
        >Current, A <input v-model="draft.current_a" class="figures" inputmode="decimal"
      /></label>
      <label
        >Motor, °C <input v-model="draft.motor_temp_c" class="figures" inputmode="decimal"
      /></label>
      <label
        >Thrust, gf <input v-model="draft.thrust_gf" class="figures" inputmode="decimal"
      /></label>
    </div>
    <div class="row">
      <label
        >Below, V <input v-model="draft.voltage_floor_v" class="figures" inputmode="decimal"
      /></label>
      <p class="note floor">
        {{
          supply?.cells
            ? `A pack of ${supply.cells} cells is not run below its floor.`
            : 'A supply that folds back shows here.'
        }}
      </p>
    </div>
    <p v-if="supply?.trip_a" class="note">{{ supply.name }} trips at {{ supply.trip_a }} A.</p>
    <h2>Air</h2>
    <div class="row">
      <label>°C <input v-model="draft.air_temp_c" class="figures" inputmode="decimal" /></label>
      <label
        >hPa <input v-model="draft.air_pressure_hpa" class="figures" inputmode="decimal"
      /></label>
      <label
        >% RH <input v-model="draft.air_humidity_pct" class="figures" inputmode="decimal"
      /></label>
    </div>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
label {
  display: block;
  margin-top: 7px;
  font-size: 13px;
  color: var(--dark-soft);
}
h2 {
  margin: 12px 0 0;
  font-size: 14px;
}
select,
input {
  width: 100%;
  height: 34px;
  border: 1px solid var(--dark-line);
  border-radius: 3px;
  background: var(--dark-sheet);
  color: var(--dark-ink);
  padding: 0 8px;
}
.figures {
  font-family: var(--mono);
}
.row {
  display: flex;
  gap: 10px;
}
.row > * {
  flex: 1;
  min-width: 0;
}
.takes {
  margin-top: 7px;
  font-size: 13px;
  color: var(--dark-soft);
}
.takes strong {
  font-family: var(--mono);
  color: var(--dark-ink);
  line-height: 34px;
}
.floor {
  flex: 2;
  align-self: end;
}
.note {
  font-size: 12.5px;
  color: var(--dark-soft);
  margin: 4px 0 0;
}
</style>
