<script setup lang="ts">
/** What ran, where and when, under which air; its verdict and its files. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import SampleThumb from '@/cutaway/SampleThumb.vue'
import { dateTime } from '@/figures/format'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'
import { wordOf } from '@/words/words'
import RunReview from './RunReview.vue'

const props = defineProps<{ run: Schemas['RunDetail'] }>()
/** How the pack stood when the run began. */
const pack = computed(() => {
  const header = (props.run.header ?? {}) as Record<string, string>
  const volts = header.pack_rest_v ? `${header.pack_rest_v} V at rest` : ''
  return [wordOf('pack_state', header.pack_state), volts].filter(Boolean).join(', ')
})
</script>

<template>
  <header class="head">
    <SampleThumb :sample="run.sample" :name="`${run.motor_name} ${run.sample_mark}`" />
    <div>
      <h1><MotorMark :motor="run.motor" />Run {{ run.id }}: {{ run.propeller_name }}</h1>
      <p>
        <RouterLink :to="`/motors/${run.motor}`"
          >{{ run.motor_name }} {{ run.sample_mark }}</RouterLink
        >
        · {{ run.supply_name || 'supply not noted' }}<template v-if="pack">, {{ pack }}</template> ·
        {{ run.stand_name || 'stand not noted' }} · {{ dateTime(run.started_at) }} ·
        {{ run.operator_name }}
      </p>
      <p class="soft small">
        <template v-if="run.air_density_kg_per_m3 !== null"
          >Air <Figure :value="run.air_temp_c" unit="°C" />,
          <Figure :value="run.air_pressure_hpa" unit="hPa" />, density
          <Figure :value="run.air_density_kg_per_m3" unit="kg/m³"
        /></template>
        <template v-else>Air not noted</template>
        · {{ run.origin === 'import' ? `imported from ${run.source_file_name}` : run.origin }} ·
        ended: {{ run.end_reason || 'still recording' }}
      </p>
    </div>
    <div class="acts">
      <RunReview :run="run" />
      <nav class="files small">
        Export
        <a :href="`/api/v1/runs/${run.id}/bench-log.csv`" download>bench log (CSV)</a>
        <a :href="`/api/v1/runs/${run.id}/points.csv`" download>points (CSV)</a>
        <a v-if="run.source_file_name" :href="`/api/v1/runs/${run.id}/source.csv`" download
          >source file</a
        >
      </nav>
    </div>
  </header>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  gap: 20px;
}
.head > div:first-of-type {
  flex: 1;
}
.head p {
  margin: 3px 0 0;
}
.acts {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  gap: 8px;
}
.files a {
  margin-left: 8px;
}
</style>
