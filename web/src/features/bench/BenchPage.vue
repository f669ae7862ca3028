<script setup lang="ts">
/** Is this run safe and good? Choose, confirm, arm, run, look. */
import { useQueryClient } from '@tanstack/vue-query'
import { until, useLocalStorage } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, dataOf, sentenceOf } from '@/api/client'
import { keysAfter } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import { useBench } from '@/live/useBench'
import AfterStop from './AfterStop.vue'
import BenchNotices from './BenchNotices.vue'
import BenchResult from './BenchResult.vue'
import BenchSetup from './BenchSetup.vue'
import BenchTabs from './BenchTabs.vue'
import DaySheetPanel from './DaySheetPanel.vue'
import HandPanel from './HandPanel.vue'
import HoldButton from './HoldButton.vue'
import LivePicture from './live/LivePicture.vue'
import LiveChart from './LiveChart.vue'
import LiveFigures from './LiveFigures.vue'
import RunSteps from './RunSteps.vue'
import SafetyChecklist from './SafetyChecklist.vue'
import { armBody, freshDraft, gapsOf } from './setup'
import { useLookAround } from './useLookAround'

const bench = useBench()
const client = useQueryClient()
const { mayWrite, user } = useSession()
const route = useRoute()
const draft = useLocalStorage('spindle.bench-draft', freshDraft(), {
  mergeDefaults: true,
})
const confirmed = ref(new Set<string>())
const problem = ref('')
const refusal = ref<unknown>(null)
const busy = ref(false)
const startedAt_s = ref<number | null>(null)
const startButton = ref<HTMLButtonElement | null>(null)
const wantedMotor = Number(route.query.motor) || null

const frame = computed(() => bench.frame)
const state = computed(() => frame.value?.state ?? 'idle')
const look = useLookAround(draft)
const gaps = computed(() => gapsOf(draft.value, confirmed.value, look.items.value))
const mayArm = computed(
  () =>
    gaps.value.length === 0 &&
    !busy.value &&
    !bench.away &&
    !bench.silent_s &&
    bench.door.open &&
    Boolean(frame.value?.link) &&
    ['idle', 'safe', 'zeroed', 'watched'].includes(state.value),
)
const finished = computed(
  () => !['armed', 'running', 'aborting', 'watching'].includes(state.value) && frame.value?.end,
)
/** Only who armed a run starts it. */
const mayStart = computed(() => frame.value?.operator_id === user.value?.id)
const armWords = computed(() => {
  if (draft.value.by_hand) return busy.value ? 'Taring…' : 'Hold to record'
  return busy.value ? 'Taring and arming…' : 'Hold to arm'
})
/** Why it cannot be armed although everything is filled in. */
const hindrance = computed(() => {
  if (bench.away || bench.silent_s) return 'The bench agent is away.'
  if (!frame.value?.link) return frame.value?.message || 'No stand is linked.'
  if (!bench.door.open) return 'The stop door is shut: this page could not stop the run.'
  return ''
})
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
  if (now === 'armed' && !working) void nextTick(() => startButton.value?.focus())
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

/** Enter that is still held from arming must not start the run: a start is a new press. */
function onStartKey(event: KeyboardEvent) {
  if (event.repeat) event.preventDefault()
}

async function ask(act: () => Promise<unknown>) {
  problem.value = ''
  refusal.value = null
  busy.value = true
  try {
    await act()
  } catch (error) {
    problem.value = sentenceOf(error)
    refusal.value = error
  } finally {
    busy.value = false
  }
}

const arm = () =>
  ask(async () => {
    bench.arming = true
    try {
      const body = armBody(draft.value, confirmed.value, look.items.value)
      bench.take(dataOf(await api.POST('/api/v1/bench/arm/', { body })))
    } finally {
      bench.arming = false
    }
  })
const start = () =>
  ask(async () => {
    const body = { run_id: frame.value?.run_id ?? '' }
    bench.take(dataOf(await api.POST('/api/v1/bench/start/', { body })))
  })
// What was refused is not said of what is typed next.
watch(draft, () => (refusal.value = null), { deep: true })
const reset = () => ask(async () => bench.take(dataOf(await api.POST('/api/v1/bench/reset/'))))
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
      <template v-if="bench.hot">
        <p class="title">{{ frame?.title }}</p>
        <p v-if="state !== 'watching'" class="progress-label">
          {{ frame?.progress.label || frame?.message }}
        </p>
        <progress
          v-if="state !== 'watching'"
          :value="frame?.progress.elapsed_s ?? 0"
          :max="frame?.progress.total_s ?? 1"
          aria-label="Progress of the profile"
        />
        <RunSteps :frame="frame" />
      </template>
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

      <div v-if="state === 'armed'" class="act">
        <button
          ref="startButton"
          type="button"
          class="start"
          :disabled="busy || !mayStart"
          @keydown.enter="onStartKey"
          @click="start"
        >
          Start the profile <small>Enter</small>
        </button>
        <p v-if="mayStart" class="soft">
          Armed. Space or Esc disarms; the stand disarms itself after 90 s.
        </p>
        <p v-else class="soft">
          {{ frame?.operator || 'Somebody else' }} armed this run and starts it. Space or Esc
          disarms.
        </p>
      </div>
      <div v-else-if="state === 'faulted'" class="act">
        <button type="button" class="start" :disabled="busy" @click="reset">
          The prop is still: reset
        </button>
      </div>
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
        <div class="arm">
          <p v-if="!mayWrite" class="soft">Your role may watch the bench, not run it.</p>
          <HoldButton v-else :disabled="!mayArm" @held="arm">
            {{ armWords }}
          </HoldButton>
          <p v-if="mayWrite && gaps.length" class="gaps">{{ gaps.join(' · ') }}</p>
          <p v-else-if="hindrance" class="gaps">{{ hindrance }}</p>
        </div>
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
.title {
  font-size: 18px;
  font-weight: 700;
  margin: 14px 0;
}
.progress-label {
  font-size: 24px;
  font-family: var(--digits);
}
progress {
  width: 100%;
  height: 14px;
  accent-color: var(--dark-copper);
}
/* However much there is to confirm, the arm control stays in sight. */
.arm {
  position: sticky;
  bottom: -40px;
  z-index: 2;
  background: var(--dark);
  padding: 6px 0 40px;
  margin-bottom: -40px;
}
.act {
  margin-top: 10px;
}
.start {
  width: 100%;
  min-height: 64px;
  font-size: 20px;
  font-weight: 700;
  border: 0;
  border-radius: 5px;
  background: var(--dark-copper);
  color: var(--dark);
  cursor: pointer;
}
.start small {
  font-weight: 400;
  font-size: 13px;
}
.soft {
  color: var(--dark-soft);
  margin-top: 8px;
}
.gaps {
  color: var(--dark-caution);
  margin-top: 8px;
  font-size: 13px;
}
@media (max-width: 1000px) {
  .console {
    grid-template-columns: 270px minmax(0, 1fr);
  }
}
</style>
