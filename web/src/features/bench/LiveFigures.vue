<script setup lang="ts">
/** The big live figures, readable from two metres; a bar shows how near each is to its limit. */
import { computed } from 'vue'
import { figureText, formatNumber } from '@/figures/format'
import type { Schemas } from '@/api/client'
import { labelOf, unitOf } from '@/words/words'
import type { Frame } from '@/live/useBench'
import { nearness } from './setup'

const props = defineProps<{ frame: Frame | null; silent_s?: number }>()

type LimitState = Schemas['LimitState']

const SHOWN: [string, number][] = [
  ['throttle_pct', 0],
  ['thrust_gf', 0],
  ['current_a', 1],
  ['power_w', 0],
  ['speed_rpm', 0],
  ['voltage_v', 2],
  ['motor_temp_c', 1],
  ['vibration_g', 2],
]

/** The value that cuts: the run's, or the stand's own where that comes first. */
const cutsAt = (limit: LimitState) => {
  const own = limit.limit ?? Infinity
  const most = limit.stand_limit ?? Infinity
  return Math.min(own, most)
}

/** A lost speed signal is a matter of throttle without speed: it stands beside the throttle. */
const placeOf = (limit: LimitState) =>
  limit.name === 'lost_rpm_s' ? 'throttle_pct' : limit.channel

/** Before a run is chosen only the stand's own limits count. */
const chosen = computed(() => props.frame?.limits.some((limit) => limit.limit !== null) ?? false)

function words(limit: LimitState): string {
  const unit = limit.unit
  const at = figureText(cutsAt(limit)).value
  if (!chosen.value) return `the stand ends at ${at} ${unit}`
  if (limit.state === 'off') return `no limit: ${limit.off_by}’s choice`
  const own = (limit.stand_limit ?? Infinity) < (limit.limit ?? Infinity)
  // What is in somebody's hand is not cut from here.
  const ends = props.frame?.state.startsWith('watch') ? 'alarm' : 'cut'
  let what = own ? `${ends} at ${at} ${unit}, the stand’s own` : `${ends} at ${at} ${unit}`
  if (limit.name === 'lost_rpm_s') what = `${ends} ${at} s without speed`
  if (limit.name === 'voltage_floor_v') what = `${ends} below ${at} ${unit}`
  if (limit.limit === null) what += `; the run’s is off: ${limit.off_by}’s choice`
  return limit.state === 'cannot_judge' ? `${what}: CANNOT BE JUDGED, no reading` : what
}

const cells = computed(() =>
  SHOWN.map(([name, decimals]) => {
    const value = props.frame?.values[name]
    const limits = props.frame?.limits.filter((limit) => placeOf(limit) === name) ?? []
    const upper = limits.find((limit) => limit.name === name && limit.state !== 'off')
    const at = upper ? cutsAt(upper) : null
    return {
      name,
      text: value === undefined ? '—' : formatNumber(value, decimals),
      limits: limits.map((limit) => ({ ...limit, words: words(limit) })),
      near: nearness(value, at),
      share: value !== undefined && at ? Math.min(1, Math.max(0, value / at)) : null,
    }
  }),
)
const NEAR_WORDS = ['', 'near its limit', 'over its limit']
</script>

<template>
  <p v-if="silent_s" class="old" role="alert">
    These figures are {{ silent_s }} s old: the bench agent or the web process does not answer.
  </p>
  <dl class="figures" :class="{ stale: silent_s }">
    <div v-for="cell in cells" :key="cell.name" :class="`near-${cell.near}`">
      <dt>{{ labelOf(cell.name) }}</dt>
      <dd>
        {{ cell.text }}<span class="unit"> {{ unitOf(cell.name) }}</span>
      </dd>
      <dd class="limit">
        <span v-if="cell.share !== null" class="bar"
          ><i :style="{ width: `${100 * cell.share}%` }"
        /></span>
        <span
          v-for="limit in cell.limits"
          :key="limit.name"
          :class="limit.limit === null && chosen ? 'off' : limit.state"
          :title="limit.words"
          >{{ limit.words }}</span
        >
        <strong v-if="cell.near">{{ NEAR_WORDS[cell.near] }}</strong>
      </dd>
    </div>
  </dl>
</template>

<style scoped>
.figures {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 10px;
  margin: 0;
}
.figures > div {
  background: var(--dark-sheet);
  border: 1px solid var(--dark-line);
  border-radius: 5px;
  padding: 6px 12px;
}
dt {
  color: var(--dark-soft);
  font-size: 14px;
}
dd {
  margin: 0;
  font-family: var(--digits);
  font-weight: 700;
  font-size: 34px;
  line-height: 1.1;
  white-space: nowrap;
}
.unit {
  margin-left: 8px;
  font-size: 18px;
  font-weight: 400;
  color: var(--dark-soft);
}
.limit {
  font: 400 12px/1.4 var(--text);
  color: var(--dark-soft);
  min-height: 17px;
  white-space: normal;
}
.limit span {
  display: inline-block;
  margin-right: 8px;
}
.limit .off {
  color: var(--dark-caution);
}
.limit .cannot_judge {
  color: var(--dark-over);
  font-weight: 700;
}
.bar {
  display: inline-block;
  width: 36px;
  height: 6px;
  background: var(--dark-track);
  margin-right: 6px;
}
.bar i {
  display: block;
  height: 100%;
  background: var(--dark-within);
}
.old {
  margin: 0 0 8px;
  padding: 6px 12px;
  background: var(--dark-caution-soft);
  font-weight: 700;
}
.stale dd:first-of-type {
  opacity: 0.45;
}
.near-1 {
  border-color: var(--dark-caution-line) !important;
}
.near-1 .bar i {
  background: var(--dark-caution-line);
}
.near-2 {
  border-color: var(--dark-over-line) !important;
  background: var(--dark-over-soft) !important;
}
.near-2 .bar i {
  background: var(--dark-over-line);
}
@media (max-width: 1000px) {
  .figures > div {
    padding: 6px 9px;
  }
  dd {
    font-size: 21px;
  }
  .unit {
    margin-left: 3px;
    font-size: 12px;
  }
}
</style>
