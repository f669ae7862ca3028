<script setup lang="ts">
/** What to run: motor sample, propeller, supply, stand, plateaus, limits and air. */
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { fieldMessage } from '@/api/client'
import { motorsQuery, propellersQuery, standsQuery, suppliesQuery } from '@/api/queries'
import { useInHand } from '@/app/useInHand'
import { duration } from '@/figures/format'
import { readNumber } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import { canBeOff, type LimitName, limitFields, proposed } from './limits'
import { type BenchDraft, type FaultName, faultsOf, profileSeconds, readLevels } from './setup'

const props = defineProps<{ wantedMotor: number | null; disabled: boolean; refusal?: unknown }>()
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
const chosen = computed(() =>
  motors.value?.find((row) => row.samples.some((sample) => sample.id === draft.value.sample)),
)
// Each supply brings its own floor; the reviewer may change it afterwards.
watch(
  () => supply.value?.id,
  (now, before) => {
    const changed = before !== undefined && now !== before
    if (supply.value && (changed || !draft.value.limits.voltage_floor_v))
      draft.value.limits.voltage_floor_v = supply.value.floor_v.toFixed(1)
  },
  { immediate: true },
)
// Power and speed are proposed from what is chosen, until somebody types there.
const proposedBefore: Record<string, string> = {}
watch(
  () => [draft.value.limits.current_a, supply.value?.open_circuit_v, chosen.value?.id] as const,
  () => {
    for (const name of ['power_w', 'speed_rpm'] as const) {
      const text = draft.value.limits[name]
      const next = proposed(
        name,
        draft.value.limits.current_a,
        supply.value?.open_circuit_v,
        chosen.value?.kv_label_rpm_per_v,
      )
      if (next && (!text || text === proposedBefore[name])) draft.value.limits[name] = next
      proposedBefore[name] = next
    }
  },
  { immediate: true },
)

const faults = computed(() => faultsOf(draft.value))
/** What the server or the agent said beside a field; gone as soon as something else is typed. */
const said = (name: string) =>
  fieldMessage(props.refusal, name) || fieldMessage(props.refusal, `limits.${name}`)
const faultOf = (name: FaultName) => faults.value[name] ?? said(name)

function setOff(name: LimitName, off: boolean) {
  draft.value.off = off
    ? [...draft.value.off, name]
    : draft.value.off.filter((other) => other !== name)
}

const time = computed(() => {
  const levels = readLevels(draft.value.levels)
  const seconds = levels
    ? profileSeconds(
        levels,
        readNumber(draft.value.dwell_s) ?? NaN,
        readNumber(draft.value.ramp_pct_per_s) ?? NaN,
      )
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
    <input
      id="levels"
      v-model="draft.levels"
      class="figures"
      :aria-invalid="Boolean(faults.levels)"
    />
    <p v-if="faults.levels" class="fault" role="alert">{{ faults.levels }}.</p>
    <div class="row">
      <NumberField v-model="draft.dwell_s" label="Dwell" unit="s" :problem="faultOf('dwell_s')" />
      <NumberField
        v-model="draft.ramp_pct_per_s"
        label="Ramp"
        unit="%/s"
        :problem="faultOf('ramp_pct_per_s')"
      />
      <div class="takes">
        takes<br /><strong>{{ time }}</strong>
      </div>
    </div>
    <h2 id="cut-at">Cut at</h2>
    <div class="limits" role="group" aria-labelledby="cut-at">
      <NumberField
        v-for="limit in limitFields()"
        :key="limit.name"
        v-model="draft.limits[limit.name]"
        inline
        :label="limit.label"
        :unit="limit.unit"
        :within="limit.within"
        :disabled="draft.off.includes(limit.name)"
        :problem="faultOf(limit.name)"
      >
        <el-checkbox
          v-if="canBeOff(limit.name)"
          size="small"
          :model-value="draft.off.includes(limit.name)"
          :aria-label="`${limit.label}: no limit`"
          @update:model-value="(on: unknown) => setOff(limit.name, Boolean(on))"
          >off</el-checkbox
        >
        <span v-else class="always">always</span>
      </NumberField>
    </div>
    <p v-if="supply?.trip_a" class="note">{{ supply.name }} trips at {{ supply.trip_a }} A.</p>
    <p v-if="supply" class="note">
      {{
        supply.cells
          ? `A pack of ${supply.cells} cells is not run below ${supply.floor_v.toFixed(1)} V.`
          : 'A supply that folds back shows below its floor.'
      }}
    </p>
    <label for="grace">Without a page that could stop it, the run ends after</label>
    <el-select
      id="grace"
      v-model="draft.page_grace_s"
      aria-label="Without a page that could stop it, the run ends after"
    >
      <el-option v-for="s in [2, 5, 10]" :key="s" :value="s" :label="`${s} s`" />
    </el-select>
    <h2>Air</h2>
    <div class="row">
      <NumberField v-model="draft.air_temp_c" label="°C" :problem="faultOf('air_temp_c')" />
      <NumberField
        v-model="draft.air_pressure_hpa"
        label="hPa"
        :problem="faultOf('air_pressure_hpa')"
      />
      <NumberField
        v-model="draft.air_humidity_pct"
        label="% RH"
        :problem="faultOf('air_humidity_pct')"
      />
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
#levels {
  width: 100%;
  height: 34px;
  border: 1px solid var(--dark-line);
  border-radius: 3px;
  background: var(--dark-sheet);
  color: var(--dark-ink);
  padding: 0 8px;
}
.figures {
  font-family: var(--digits);
}
.row {
  display: flex;
  gap: 10px;
}
.row > * {
  flex: 1;
  min-width: 0;
}
.limits {
  display: grid;
  gap: 3px;
  margin-top: 4px;
}
.always {
  font-size: 12px;
  width: 52px;
}
.fault {
  margin: 2px 0 0;
  font-size: 12.5px;
  font-weight: 700;
  color: var(--fault);
}
.takes {
  margin-top: 7px;
  font-size: 13px;
  color: var(--dark-soft);
}
.takes strong {
  font-family: var(--digits);
  color: var(--dark-ink);
  line-height: 34px;
}
.note {
  font-size: 12.5px;
  color: var(--dark-soft);
  margin: 4px 0 0;
}
</style>
