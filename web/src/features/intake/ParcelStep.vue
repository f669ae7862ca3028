<script setup lang="ts">
/** Every delivery of the motor, and a way to note one more. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { refreshRecord } from '@/api/queries'
import { useSession } from '@/app/useSession'
import ParcelSheet from './ParcelSheet.vue'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
const client = useQueryClient()
const problem = ref('')

async function another() {
  problem.value = ''
  try {
    await api.POST('/api/v1/motors/{id}/parcels/', {
      params: { path: { id: props.file.motor.id } },
      body: {},
    })
    await refreshRecord(client)
  } catch (failure) {
    problem.value = sentenceOf(failure)
  }
}
</script>

<template>
  <ParcelSheet
    v-for="(row, at) in file.parcels"
    :key="row.parcel.id"
    :row="row"
    :number="at + 1"
    :of="file.parcels.length"
  />
  <p v-if="mayWrite" class="another">
    <el-button size="small" @click="another">Another parcel of this motor</el-button>
    <span v-if="problem" role="alert">{{ problem }}</span>
  </p>
</template>

<style scoped>
.another {
  margin: 10px 0 0;
}
</style>
