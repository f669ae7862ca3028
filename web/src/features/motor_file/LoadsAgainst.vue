<script setup lang="ts">
/** The maker's table of loads, each figure beside what was measured on the same. */
import type { Schemas } from '@/api/client'
import Figure from '@/figures/Figure.vue'
import { useForeseen } from './useForeseen'

const props = defineProps<{ motor: number; loads: Schemas['LoadOnFile'][] }>()
/** Where nothing was run, what the model makes of the row. */
const foreseen = useForeseen(
  () => props.motor,
  () => props.loads,
)
</script>

<template>
  <h3 id="loads">By propeller and cell count</h3>
  <table class="grid" aria-labelledby="loads">
    <thead>
      <tr>
        <th>Load</th>
        <th></th>
        <th class="num">Claimed</th>
        <th class="num">Measured</th>
        <th class="num">Deviation</th>
      </tr>
    </thead>
    <tbody v-for="load in loads" :key="load.id">
      <tr v-for="(one, at) in load.figures" :key="one.name">
        <td v-if="at === 0" :rowspan="load.figures.length">
          {{ load.cells }} cells, {{ load.propeller }}
          <div class="soft small">
            {{ load.source }}<template v-if="load.stated_on">, {{ load.stated_on }}</template>
          </div>
          <div v-for="said in load.odd" :key="said" class="small">
            <span class="tag caution">odd</span> {{ said }}
          </div>
        </td>
        <td class="small">{{ one.label }}</td>
        <td class="num claim"><Figure :value="one.said" :unit="one.unit" /></td>
        <td class="num">
          <Figure
            :value="one.measured.value"
            :u="one.measured.u"
            :assumed="one.measured.assumed"
            :unit="one.unit"
            :reason="one.measured.reason"
          />
          <div class="soft small">{{ one.measured_from || one.measured.reason }}</div>
          <div
            v-if="one.measured.value === null && foreseen.of(load.id, one.name)"
            class="soft small"
            :data-reason="foreseen.restsOn(load.id)"
            tabindex="0"
          >
            foreseen
            <Figure
              estimated
              :value="foreseen.of(load.id, one.name)?.foreseen.value"
              :u="foreseen.of(load.id, one.name)?.foreseen.u"
              :unit="one.unit"
            />
          </div>
        </td>
        <td class="num">
          <Figure
            signed
            :value="one.deviation_pct.value"
            :u="one.deviation_pct.u"
            :assumed="one.deviation_pct.assumed"
            unit="%"
            :reason="one.measured.reason"
          />
          <div v-if="one.deviation_pct.value !== null" class="small">
            <span v-if="one.resolved" class="tag caution">differs</span>
            <span v-else class="soft">not told apart</span>
          </div>
          <div v-else-if="foreseen.of(load.id, one.name)" class="small">
            <Figure
              signed
              :value="foreseen.of(load.id, one.name)?.off_pct.value"
              :u="foreseen.of(load.id, one.name)?.off_pct.u"
              unit="%"
            /><br />
            <span v-if="foreseen.of(load.id, one.name)?.differs" class="tag caution"
              >foreseen differs</span
            >
            <span v-else class="soft">foreseen, not told apart</span>
          </div>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
}
.claim {
  border-right: 1px dashed var(--line);
}
</style>
