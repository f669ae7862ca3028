<script setup lang="ts">
/** Is this run safe and good? Choose, confirm, arm, run, look. */
import { useQueryClient } from '@tanstack/vue-query'
import { until, useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { keysAfter } from '@/api/useWrite'
import { useBench } from '@/live/useBench'
import AfterStop from './AfterStop.vue'
import ArmBar from './ArmBar.vue'
import BenchNotices from './BenchNotices.vue'
import BenchResult from './BenchResult.vue'
import BenchSetup from './BenchSetup.vue'
import BenchTabs from './BenchTabs.vue'
import DaySheetPanel from './DaySheetPanel.vue'
import HandPanel from './HandPanel.vue'
import LivePicture from './live/LivePicture.vue'
import LiveChart from './LiveChart.vue'
import LiveFigures from './LiveFigures.vue'
import SafetyChecklist from './SafetyChecklist.vue'
import { freshDraft } from './setup'
import StartPanel from './StartPanel.vue'
import TurningHead from './TurningHead.vue'
import { useArming } from './useArming'

const bench = useBench()
const client = useQueryClient()
const route = useRoute()
const draft = useLocalStorage('spindle.bench-draft', freshDraft(), {
  mergeDefaults: true,
})
const startedAt_s = ref<number | null>(null)
const startPanel = ref<InstanceType<typeof StartPanel> | null>(null)
const wantedMotor = Number(route.query.motor) || null

const frame = computed(() => bench.frame)
const {
  arm,
  armWords,
  busy,
  confirmed,
  hindrance,
  look,
  mayArm,
  mayStart,
  mayWrite,
  problem,
  refusal,
  reset,
  start,
  state,
} = useArming(draft)
const finished = computed(
  () => !['armed', 'running', 'aborting', 'watching'].includes(state.value) && frame.value?.end,
)
/** While something turns the chart has the room; before and after, the checklist needs it. */
const chartHeight = computed(() => {
  if (state.value === 'watching') return frame.value?.picture ? 120 : 250
  if (bench.hot) return frame.value?.picture ? 170 : 360
  return finished.value ? 122 : 150
})

watch(state, (now, before) => {
  if (now === 'running' || now === 'watching') startedAt_s.value = frame.value?.time_s ?? null
  const over = ['armed', 'running', 'aborting', 'coasting', 'watching'].includes(before ?? '')
  if (over && !bench.hot) {
    // Each run asks for its own look around.
    confirmed.value = new Set()
    for (const queryKey of [...keysAfter('run'), ['checklist']])
      void client.invalidateQueries({ queryKey })
  }
})

// The start control takes the focus as soon as it can be used.
watch([state, busy], ([now, working]) => {
  if (now === 'armed' && !working) void nextTick(() => startPanel.value?.focus())
})

/** The same again: what is left to do is to confirm and to arm. */
async function toConfirmation() {
  // What has to be confirmed is asked anew after each run; what is shown until then goes away.
  await until(look.busy).toBe(false)
  await nextTick()
  const open = document.querySelector<HTMLElement>('fieldset.checklist input:not(:checked)')
  ;(open ?? document.querySelector<HTMLElement>('.arm button'))?.focus()
}

/** What the run sheet sets up: what it mounts is chosen, nothing is armed. */
function takeUp(sample: number, propeller: number, supply: number) {
  Object.assign(draft.value, { sample, propeller, supply })
  void toConfirmation()
}
</script>

<template>
  <div class="console">
    <section class="left on-dark" aria-label="Run to make">
      <h1>Bench</h1>
      <!-- Hidden, not taken away: what is chosen must not be chosen anew after each run. -->
      <div v-show="!bench.hot">
        <BenchTabs />
        <DaySheetPanel :may="mayWrite && !bench.hot" @load="takeUp" />
        <BenchSetup
          v-model="draft"
          :wanted-motor="wantedMotor"
          :disabled="!mayWrite"
          :refusal="refusal"
        />
      </div>
      <TurningHead v-if="bench.hot" :frame="frame" />
    </section>

    <section class="right" aria-label="Live">
      <HandPanel v-if="state === 'watching'" :frame="frame" />
      <LiveFigures :frame="frame" :silent_s="bench.silent_s" />
      <LivePicture v-if="bench.hot" :frame="frame" :height="250" />
      <LiveChart
        v-if="bench.hot || !frame?.picture"
        :trail="bench.trail"
        :since_s="bench.hot || finished ? startedAt_s : null"
        :height="chartHeight"
        :kind="frame?.kind"
      />
      <AfterStop v-if="!bench.hot" :frame="frame" />
      <BenchNotices :problem="problem" :busy="busy" />

      <StartPanel
        v-if="state === 'armed' || state === 'faulted'"
        ref="startPanel"
        :frame="frame"
        :busy="busy"
        :may-start="mayStart"
        @start="start"
        @reset="reset"
      />
      <template v-else-if="!bench.hot">
        <BenchResult
          v-if="finished && frame?.run_id"
          :uid="frame.run_id"
          :end="frame.end"
          :wanted="draft.repeats"
          :may="mayWrite"
          @again="toConfirmation"
        />
        <SafetyChecklist
          v-model="confirmed"
          :items="look.items.value"
          :why="look.why.value"
          :busy="look.busy.value"
          :disabled="!mayWrite"
        />
        <ArmBar
          :may-write="mayWrite"
          :may-arm="mayArm"
          :words="armWords"
          :hindrance="hindrance"
          @arm="arm"
        />
        <LivePicture v-if="finished" :frame="frame" :height="190" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.console {
  display: grid;
  grid-template-columns: 330px minmax(0, 1fr);
  gap: 22px;
  align-items: start;
}
@media (max-width: 1000px) {
  .console {
    grid-template-columns: 270px minmax(0, 1fr);
  }
}
</style>
