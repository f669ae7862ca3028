<script setup lang="ts">
/** Adding a stand or a supply: a short row of fields, checked by the server. */
import { computed, ref } from 'vue'
import { api, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import NumberField from '@/forms/NumberField.vue'
import TextField from '@/forms/TextField.vue'
import { standBody, supplyBody } from './bodies'

const props = defineProps<{ what: 'stand' | 'supply' }>()
const stand = ref({ name: '', kind: 'direct', repeatability: '', calibration: '', live: true })
const supply = ref({ name: '', kind: 'psu', volts: '', trip: '', cells: '', mah: '', mohm: '' })
const STANDS = [
  { key: 'direct', label: 'direct load cell' },
  { key: 'lever', label: 'lever arm on a scale' },
]
const SUPPLIES = [
  { key: 'psu', label: 'supply' },
  { key: 'pack', label: 'pack' },
]
const stands = useWrite('stand', (body: Schemas['NewStandRequest']) =>
  api.POST('/api/v1/stands/', { body }),
)
const supplies = useWrite('supply', (body: Schemas['NewSupplyRequest']) =>
  api.POST('/api/v1/supplies/', { body }),
)
const problem = computed(() => stands.problem.value ?? supplies.problem.value)
const said = (field: string) => fieldMessage(problem.value, field)

async function add() {
  if (props.what === 'stand') {
    if (await stands.send(standBody(stand.value))) stand.value = { ...stand.value, name: '' }
  } else if (await supplies.send(supplyBody(supply.value)))
    supply.value = { ...supply.value, name: '' }
}
</script>

<template>
  <el-form v-if="what === 'stand'" class="add" @submit.prevent="add">
    <TextField v-model="stand.name" label="A new stand" :problem="said('name')" />
    <ChoiceField v-model="stand.kind" label="Kind" :choices="STANDS" />
    <NumberField
      v-model="stand.repeatability"
      label="Repeatability of one run"
      unit="%"
      width="usual"
      :problem="said('repeatability_rel')"
    />
    <NumberField
      v-model="stand.calibration"
      label="Calibration uncertainty"
      unit="%"
      width="usual"
      :problem="said('calibration_rel')"
    />
    <el-checkbox v-model="stand.live">live</el-checkbox>
    <el-button native-type="submit" :disabled="!stand.name" :loading="stands.busy.value"
      >Add</el-button
    >
  </el-form>
  <el-form v-else class="add" @submit.prevent="add">
    <TextField v-model="supply.name" label="A new supply" :problem="said('name')" />
    <ChoiceField v-model="supply.kind" label="Kind" width="narrow" :choices="SUPPLIES" />
    <template v-if="supply.kind === 'psu'">
      <NumberField
        v-model="supply.volts"
        label="Set to"
        unit="V"
        :problem="said('nominal_voltage_v')"
      />
      <NumberField v-model="supply.trip" label="Trips at" unit="A" :problem="said('trip_a')" />
    </template>
    <template v-else>
      <NumberField v-model="supply.cells" label="Cells" :problem="said('cells')" />
      <NumberField
        v-model="supply.mah"
        label="Capacity"
        unit="mAh"
        :problem="said('capacity_mah')"
      />
    </template>
    <NumberField
      v-model="supply.mohm"
      label="Resistance"
      unit="mΩ"
      :problem="said('resistance_ohm')"
    />
    <el-button native-type="submit" :disabled="!supply.name" :loading="supplies.busy.value"
      >Add</el-button
    >
  </el-form>
  <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
</template>

<style scoped>
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  margin-top: 12px;
  align-items: flex-end;
}
.problem {
  color: var(--stop);
  margin-top: 8px;
}
</style>
