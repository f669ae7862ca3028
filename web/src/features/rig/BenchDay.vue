<script setup lang="ts">
/** The day in a line, and a way to its form: on the Board, and beside a run that is set up. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { benchDayQuery, standsQuery } from '@/api/rigQueries'
import { useSession } from '@/app/useSession'
import { formatNumber, otherZone } from '@/figures/format'
import BenchDayForm from './BenchDayForm.vue'

const { data: day } = useQuery(benchDayQuery('today'))
const { data: stands } = useQuery(standsQuery())
const { mayWrite } = useSession()
const open = ref(false)
/** Where the bench's day is not that of who reads. */
const elsewhere = otherZone()
const air = computed(() => {
  const row = day.value
  if (!row) return ''
  return [
    row.air_temp_c == null ? '' : `${formatNumber(row.air_temp_c, 1)} °C`,
    row.pressure_hpa == null
      ? ''
      : `${row.pressure_u_hpa ? '~' : ''}${formatNumber(row.pressure_hpa, 0)} hPa`,
    row.air_humidity_pct == null ? '' : `${formatNumber(row.air_humidity_pct, 0)} %`,
  ]
    .filter(Boolean)
    .join(', ')
})
const said = computed(() => {
  const row = day.value
  if (!row?.version) return 'Not begun: air, stand and ESC are not noted.'
  const parts = [row.people, air.value || 'air not noted', row.stand_name, row.esc_name]
  return `${parts.filter(Boolean).join(' · ')}.`
})
/** A stand in use that has moved, or has to be calibrated again. */
const doubts = computed(() => {
  const today = String(day.value?.day ?? '')
  const used = (stands.value ?? []).filter(
    (row) => !row.retired && (!day.value?.stand || row.id === day.value.stand || row.live),
  )
  return used.flatMap((row) => [
    ...(row.last_check?.moved
      ? [{ id: row.id, said: `${row.name} has moved since its calibration.` }]
      : []),
    ...(row.remind_on && today && String(row.remind_on) <= today
      ? [{ id: row.id, said: `${row.name} is to be calibrated again.` }]
      : []),
  ])
})
</script>

<template>
  <div v-if="day" class="day">
    <p>
      <strong>{{ day.day }}</strong><span v-if="elsewhere" class="soft"> ({{ elsewhere }})</span>
      {{ said }}
      <el-button v-if="mayWrite" link @click="open = true">{{
        day.version ? 'Change the day' : 'Begin the day'
      }}</el-button>
    </p>
    <p v-for="doubt in doubts" :key="doubt.said">
      <span class="tag caution">stand</span> {{ doubt.said }}
      <RouterLink :to="`/rig?stand=${doubt.id}`">Look at it</RouterLink>
    </p>
    <el-dialog
      v-model="open"
      :title="`Bench day ${day.day}`"
      width="760px"
      modal-class="below-strip"
      append-to-body
      destroy-on-close
    >
      <BenchDayForm @done="open = false" />
    </el-dialog>
  </div>
</template>

<style scoped>
.day p {
  margin: 4px 0 0;
}
</style>
