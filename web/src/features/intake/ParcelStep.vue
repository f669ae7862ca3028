<script setup lang="ts">
/** Every delivery of the motor, and a way to note one more. */
import { api, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import ParcelSheet from './ParcelSheet.vue'

const props = defineProps<{ file: Schemas['MotorFile'] }>()
const { mayWrite } = useSession()
const another = useWrite('motor', () =>
  api.POST('/api/v1/motors/{id}/parcels/', {
    params: { path: { id: props.file.motor.id } },
    body: {},
  }),
)
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
    <el-button size="small" :loading="another.busy.value" @click="another.send()"
      >Another parcel of this motor</el-button
    >
    <span v-if="another.problem.value" role="alert">{{ sentenceOf(another.problem.value) }}</span>
  </p>
</template>

<style scoped>
.another {
  margin: 10px 0 0;
}
</style>
