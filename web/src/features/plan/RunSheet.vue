<script setup lang="ts">
/** The runs of a day in their order: swaps, cool-downs, minutes; to print, to save, to tick. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { daySheetQuery, runSheetQuery } from '@/api/benchQueries'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import Figure from '@/figures/Figure.vue'
import { dateTime, formatNumber } from '@/figures/format'
import { useSession } from '@/app/useSession'
import { totalWords } from './sheet'

const props = defineProps<{ campaign: number; supply: number | null }>()
const emit = defineEmits<{ load: [sample: number, propeller: number] }>()
const drift = ref<Schemas['RunSheet']['drift']>('reference')
const sheet = useQuery(computed(() => runSheetQuery(props.campaign, props.supply, drift.value)))
const shown = sheet.data
const file = (kind: 'csv' | 'pdf') =>
  `/api/v1/campaigns/${props.campaign}/sheet.${kind}?drift=${drift.value}` +
  (props.supply ? `&supply=${props.supply}` : '')
const DRIFTS: [Schemas['RunSheet']['drift'], string][] = [
  ['reference', 'a reference run first and last'],
  ['interleaved', 'going round the motors'],
  ['none', 'not at all'],
]
const print = () => window.print()

/** The sheet that is at the bench already. */
const { mayWrite } = useSession()
const router = useRouter()
const atBench = useQuery(daySheetQuery())
const inUse = computed(() => atBench.data.value?.found ?? null)
const taking = useWrite('day-sheet', async () =>
  dataOf(
    await api.POST('/api/v1/campaigns/{id}/day-sheets/', {
      params: { path: { id: props.campaign } },
      body: { supply: props.supply, drift: drift.value },
    }),
  ),
)
async function take() {
  if (await taking.send()) void router.push('/bench')
}
</script>

<template>
  <section class="sheet run-sheet" aria-label="Run sheet">
    <div class="bar">
      <h2>Run sheet</h2>
      <label class="no-print"
        >Drift is caught by
        <el-select v-model="drift" size="small" aria-label="How drift is caught">
          <el-option v-for="[key, label] in DRIFTS" :key="key" :value="key" :label="label" />
        </el-select>
      </label>
      <span class="no-print acts">
        <el-button size="small" @click="print">Print</el-button>
        <a :href="file('pdf')" download>PDF</a>
        <a :href="file('csv')" download>CSV</a>
        <el-button
          v-if="mayWrite && shown?.steps.length"
          size="small"
          type="primary"
          :loading="taking.busy.value"
          @click="take"
          >Take it to the bench</el-button
        >
      </span>
    </div>
    <p v-if="inUse" class="soft small no-print">
      At the bench since {{ dateTime(inUse.taken_at) }}: “{{ inUse.title }}” on
      {{ inUse.supply_name }}. Another that is taken there puts it away.
    </p>
    <p v-if="taking.problem.value" role="alert" class="fault">
      {{ sentenceOf(taking.problem.value) }}
    </p>
    <PageState :loading="sheet.isPending.value" :error="sheet.error.value" :retry="sheet.refetch" />
    <template v-if="shown">
      <p class="only-print">{{ shown.campaign }} · {{ shown.supply_name }}</p>
      <p v-if="!shown.steps.length">Nothing is left to run on {{ shown.supply_name }}.</p>
      <template v-else>
        <p>
          {{ totalWords(shown) }}
          <template v-if="shown.reference">Reference: {{ shown.reference }}.</template>
        </p>
        <p class="soft">
          Lay out: {{ shown.propellers.join(', ') }}.
          <template v-if="shown.packs !== null"
            >Charge {{ shown.packs }} {{ shown.packs === 1 ? 'pack' : 'packs' }} (assumed: 30 s at
            45 % of the full current a run).</template
          >
          Cool-downs assume that the case reaches half of the winding's rise.
        </p>
        <div class="scroll">
          <table>
            <thead>
              <tr>
                <th scope="col" class="only-print">Done</th>
                <th scope="col" class="number">From (min)</th>
                <th scope="col" class="number">Takes (min)</th>
                <th scope="col">What</th>
                <th scope="col">Motor</th>
                <th scope="col">Propeller</th>
                <th scope="col" class="number">Thrust at full</th>
                <th scope="col" class="number">Current at full</th>
                <th scope="col" class="no-print"><span class="visually-hidden">Act</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(step, i) in shown.steps" :key="i" :class="step.kind">
                <td class="only-print">☐</td>
                <td class="number">{{ formatNumber(step.starts_min, 0) }}</td>
                <td class="number">{{ formatNumber(step.minutes, 1) }}</td>
                <td>{{ step.words }}</td>
                <td>{{ step.kind === 'run' ? step.motor_name : '' }}</td>
                <td>{{ step.kind === 'run' ? step.propeller_name : '' }}</td>
                <td class="number">
                  <Figure
                    v-if="step.kind === 'run'"
                    estimated
                    :value="step.thrust_gf"
                    :u="step.thrust_u_gf"
                    unit="gf"
                  />
                </td>
                <td class="number">
                  <Figure
                    v-if="step.kind === 'run'"
                    estimated
                    :value="step.current_a"
                    :u="step.current_u_a"
                    unit="A"
                  />
                </td>
                <td class="no-print">
                  <el-button
                    v-if="step.kind === 'run'"
                    size="small"
                    text
                    @click="emit('load', step.sample, step.propeller)"
                    >Set up</el-button
                  >
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </template>
      <details v-if="shown.left_out.length" class="left-out">
        <summary>{{ shown.left_out.length }} left out</summary>
        <ul>
          <li v-for="sentence in shown.left_out" :key="sentence">{{ sentence }}</li>
        </ul>
      </details>
      <p class="caution small">
        A propeller cuts, a pack burns, a winding stays hot: glasses on, nobody in the plane of the
        propeller; the maker's instructions and local rules come first.
      </p>
    </template>
  </section>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 18px;
}
.bar label {
  display: flex;
  align-items: center;
  gap: 8px;
}
.bar .el-select {
  width: 230px;
}
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
}
.scroll {
  max-height: 420px;
  overflow: auto;
}
table {
  width: 100%;
  font-size: 13.5px;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--sheet);
}
td,
th {
  padding: 3px 8px;
  text-align: left;
}
.number {
  text-align: right;
}
tr.cool td,
tr.swap td,
tr.mount td {
  color: var(--ink-soft);
}
.small {
  font-size: 12.5px;
}
.caution {
  border-left: 4px solid var(--caution-line, var(--copper));
  padding-left: 10px;
}
.only-print {
  display: none;
}
.fault {
  color: var(--stop);
}
@media print {
  .only-print {
    display: block;
  }
  :is(td, th).only-print {
    display: table-cell;
  }
  .no-print {
    display: none;
  }
  .scroll {
    max-height: none;
    overflow: visible;
  }
}
</style>

<style>
/* Printed, the page is the run sheet alone. */
@media print {
  body:has(.run-sheet) :is(.strip, .rail, .head, .bar, .next, .work, .sheet:not(.run-sheet)) {
    display: none !important;
  }
  body:has(.run-sheet) :is(.frame, .page) {
    display: block !important;
    position: static !important;
    height: auto !important;
    overflow: visible !important;
    padding: 0 !important;
  }
  .run-sheet {
    border: 0 !important;
    padding: 0 !important;
  }
}
</style>
