<script setup lang="ts">
/** What is asked of the hand that has the throttle, readable from two metres; it cannot cut. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { api, dataOf, type Schemas } from '@/api/client'
import { formatNumber } from '@/figures/format'
import { useBench } from '@/live/useBench'
import { labelOf } from '@/words/words'
import { AlarmSound, type Alarm } from './alarmSound'

const props = defineProps<{ frame: Schemas['Frame'] | null }>()
const bench = useBench()
const hand = computed(() => props.frame?.by_hand ?? null)
const alarm = computed<Alarm>(() => {
  if (hand.value?.alarm) return 'beyond'
  return hand.value?.near.length ? 'near' : ''
})
const nearWords = computed(() => {
  const labels = hand.value?.near.map((one) => one.label.toLowerCase()) ?? []
  return labels.length ? `Near its limit: ${labels.join(', ')}.` : ''
})
/** What tells where the hand is, where nobody reads the throttle itself. */
const guideWords = computed(() => {
  const guide = hand.value?.guide
  if (!guide || guide === 'throttle_pct') return ''
  return `The throttle is not read; ${labelOf(guide).toLowerCase()} tells when it is held.`
})

/** Wherever the form was scrolled to: what is asked now comes first. */
const panel = ref<HTMLElement | null>(null)
onMounted(() => panel.value?.closest('.page')?.scrollTo(0, 0))

const sound = new AlarmSound()
const deaf = ref(false)
watch(alarm, (now) => sound.set(now), { immediate: true })
onBeforeUnmount(() => sound.end())
const tryIt = () => (deaf.value = !sound.try())

/** A stand that is only simulated has a transmitter that is only simulated. */
const pct = ref(0)
const problem = ref('')
let moving = false
/** One at a time, and then where the hand is by now: two on their way could arrive the other way
 * round, and the throttle would stay where the hand was before. */
async function move() {
  if (moving) return
  moving = true
  let sent: number | null = null
  while (sent !== pct.value) {
    sent = pct.value
    try {
      bench.take(dataOf(await api.POST('/api/v1/bench/hand/', { body: { pct: sent } })))
      problem.value = ''
    } catch {
      problem.value = 'The simulated transmitter did not move.'
    }
  }
  moving = false
}
watch(pct, () => void move())
</script>

<template>
  <section
    v-if="hand"
    ref="panel"
    class="hand on-dark"
    :class="alarm"
    aria-label="The hand on the throttle"
  >
    <p v-if="hand.alarm" class="cut" role="alert">CUT BY HAND NOW. {{ hand.alarm }}</p>
    <p class="says" role="status">{{ hand.says }}</p>
    <div class="held">
      <progress
        :value="hand.held_s"
        :max="hand.hold_s"
        aria-label="How long it has been held"
      /><span
        >{{ formatNumber(hand.held_s, 1) }} of {{ formatNumber(hand.hold_s, 1) }} s · position
        {{ Math.min(hand.at + 1, hand.of) }} of {{ hand.of }}</span
      >
    </div>
    <p v-if="nearWords && !hand.alarm" class="near-words" role="alert">{{ nearWords }}</p>
    <p class="soft">
      This program does not hold the throttle and cannot cut it. {{ guideWords }} Space or Esc ends
      the record, not the motor.
      <el-button size="small" text @click="tryIt">Try the sound</el-button>
      <span v-if="deaf" role="status">This browser makes none: watch the colour.</span>
    </p>
    <div v-if="frame?.has_hand" class="transmitter">
      <span aria-hidden="true">Simulated transmitter</span>
      <el-slider
        v-model="pct"
        :min="0"
        :max="100"
        :step="1"
        :show-tooltip="false"
        aria-label="Simulated transmitter"
        :format-value-text="(value: number) => `${value} %`"
      />
      <span class="pct">{{ pct }} %</span>
    </div>
    <p v-if="problem" class="soft" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
.hand {
  border: 2px solid var(--dark-line);
  border-radius: 6px;
  padding: 10px 16px;
  margin-bottom: 10px;
  background: var(--dark-sheet);
}
.hand.near {
  border-color: var(--dark-caution-line);
  background: var(--dark-caution-soft);
}
.hand.beyond {
  border-color: var(--dark-over-line);
  background: var(--dark-over-soft);
}
p {
  margin: 0;
}
.says {
  font-size: 32px;
  font-weight: 700;
  line-height: 1.2;
}
.cut {
  font-size: 30px;
  font-weight: 700;
  line-height: 1.2;
  margin-bottom: 6px;
}
.near-words {
  font-weight: 700;
  font-size: 18px;
}
.held {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  margin: 6px 0;
  font-family: var(--digits);
}
progress {
  flex: 1;
  min-width: 160px;
  height: 16px;
  accent-color: var(--dark-copper);
}
.soft {
  font-size: 13px;
  color: var(--dark-soft);
}
.transmitter {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) 56px;
  gap: 22px;
  align-items: center;
  margin-top: 4px;
}
.pct {
  font-family: var(--digits);
  text-align: right;
}
</style>
