<script setup lang="ts">
/** Runs in a table; with `choosing`, each can be taken into a comparison. */
import type { Schemas } from '@/api/client'
import { dateTime } from '@/figures/format'
import Figure from '@/figures/Figure.vue'
import MotorMark from '@/figures/MotorMark.vue'

defineProps<{ runs: Schemas['Run'][]; choosing?: boolean }>()
const chosen = defineModel<number[]>('chosen', { default: () => [] })

function toggle(id: number, on: boolean) {
  chosen.value = on ? [...chosen.value, id] : chosen.value.filter((other) => other !== id)
}
</script>

<template>
  <table class="grid">
    <thead>
      <tr>
        <th v-if="choosing"><span class="visually-hidden">Compare</span></th>
        <th>Run</th>
        <th>Motor</th>
        <th>Propeller</th>
        <th class="wide">Supply</th>
        <th class="num">Largest thrust</th>
        <th class="num">Largest current</th>
        <th class="num">Best gf/W</th>
        <th>State</th>
        <th class="wide">When</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="run in runs" :key="run.id" :class="{ rejected: run.review === 'rejected' }">
        <td v-if="choosing">
          <input
            type="checkbox"
            :checked="chosen.includes(run.id)"
            :disabled="!run.max_thrust_gf"
            :aria-label="`Compare run ${run.id}`"
            @change="toggle(run.id, ($event.target as HTMLInputElement).checked)"
          />
        </td>
        <td>
          <RouterLink :to="`/runs/${run.id}`">{{ run.id }}</RouterLink>
        </td>
        <td>
          <MotorMark :motor="run.motor" />{{ run.motor_name }}
          <span class="soft">{{ run.sample_mark }}</span>
        </td>
        <td class="when">{{ run.propeller_name }}</td>
        <td class="small when wide">{{ run.supply_name || '—' }}</td>
        <td class="num">
          <Figure
            :value="run.max_thrust_gf?.value"
            :u="run.max_thrust_gf?.u"
            :assumed="run.max_thrust_gf?.assumed"
            unit="gf"
          />
        </td>
        <td class="num">
          <Figure
            :value="run.max_current_a?.value"
            :u="run.max_current_a?.u"
            :assumed="run.max_current_a?.assumed"
            unit="A"
          />
        </td>
        <td class="num">
          <Figure
            :value="run.best_efficiency_g_per_w?.value"
            :u="run.best_efficiency_g_per_w?.u"
            :assumed="run.best_efficiency_g_per_w?.assumed"
            unit=""
          />
        </td>
        <td class="small">
          <span v-if="!run.outcome" class="tag">recording</span>
          <span
            v-else-if="run.outcome !== 'completed'"
            class="tag caution"
            :title="run.end_reason"
            >{{ run.outcome }}</span
          >
          <span
            v-if="run.review"
            class="tag"
            :class="run.review === 'accepted' ? 'within' : 'over'"
            >{{ run.review }}</span
          >
          <span v-if="run.warning_count" class="tag caution" title="warnings of the reduction"
            >{{ run.warning_count }} ⚠</span
          >
        </td>
        <td class="soft small when wide">{{ dateTime(run.started_at) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.rejected td {
  text-decoration: line-through;
  color: var(--ink-soft);
}
input {
  width: 18px;
  height: 18px;
  accent-color: var(--copper);
}
.when {
  white-space: nowrap;
}
.tag {
  margin-right: 3px;
}
@media (max-width: 1100px) {
  .wide {
    display: none;
  }
}
</style>
