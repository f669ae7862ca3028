<script setup lang="ts">
/** Adding a stand or a supply: a short row of fields, checked by the server. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, sentenceOf } from '@/api/client'
import { standBody, supplyBody } from './bodies'

const props = defineProps<{ what: 'stand' | 'supply' }>()
const client = useQueryClient()
const problem = ref('')
const stand = ref({ name: '', kind: 'direct', repeatability: '', calibration: '', live: true })
const supply = ref({ name: '', kind: 'psu', volts: '', trip: '', cells: '', mah: '', mohm: '' })

async function add() {
  problem.value = ''
  try {
    if (props.what === 'stand') {
      await api.POST('/api/v1/stands/', { body: standBody(stand.value) })
      stand.value = { ...stand.value, name: '' }
      await client.invalidateQueries({ queryKey: ['stands'] })
    } else {
      await api.POST('/api/v1/supplies/', { body: supplyBody(supply.value) })
      supply.value = { ...supply.value, name: '' }
      await client.invalidateQueries({ queryKey: ['supplies'] })
    }
  } catch (error) {
    problem.value = sentenceOf(error)
  }
}
</script>

<template>
  <form v-if="what === 'stand'" class="add" @submit.prevent="add">
    <el-input v-model="stand.name" placeholder="Stand" aria-label="Name of the stand" />
    <select v-model="stand.kind" aria-label="Kind of stand">
      <option value="direct">direct load cell</option>
      <option value="lever">lever arm on a scale</option>
    </select>
    <el-input
      v-model="stand.repeatability"
      placeholder="Repeatability, %"
      aria-label="Repeatability of one run in percent"
    />
    <el-input
      v-model="stand.calibration"
      placeholder="Calibration, %"
      aria-label="Calibration uncertainty in percent"
    />
    <label><input v-model="stand.live" type="checkbox" /> live</label>
    <el-button native-type="submit" :disabled="!stand.name">Add</el-button>
  </form>
  <form v-else class="add" @submit.prevent="add">
    <el-input v-model="supply.name" placeholder="Supply" aria-label="Name of the supply" />
    <select v-model="supply.kind" aria-label="Kind of supply">
      <option value="psu">supply</option>
      <option value="pack">pack</option>
    </select>
    <template v-if="supply.kind === 'psu'">
      <el-input v-model="supply.volts" placeholder="V" aria-label="Voltage it is set to" />
      <el-input v-model="supply.trip" placeholder="trips at, A" aria-label="Trip current" />
    </template>
    <template v-else>
      <el-input v-model="supply.cells" placeholder="cells" aria-label="Cells in series" />
      <el-input v-model="supply.mah" placeholder="mAh" aria-label="Capacity" />
    </template>
    <el-input v-model="supply.mohm" placeholder="mΩ" aria-label="Internal resistance" />
    <el-button native-type="submit" :disabled="!supply.name">Add</el-button>
  </form>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
</template>

<style scoped>
.add {
  display: flex;
  gap: 8px;
  margin-top: 10px;
  align-items: center;
}
select {
  flex: none;
}
label {
  white-space: nowrap;
}
.problem {
  color: var(--stop);
  margin-top: 8px;
}
</style>
