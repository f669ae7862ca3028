<script setup lang="ts">
/** The bench strip: link, state, temperature, what runs, and the stop control. Always there. */
import { works } from '@/api/again'
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '@/api/client'
import { count, duration, formatNumber } from '@/figures/format'
import { readyWords } from '@/live/ready'
import type { StandNow } from '@/live/stopDoor'
import { useBench } from '@/live/useBench'
import { useSession } from './useSession'

const bench = useBench()
const router = useRouter()
const client = useQueryClient()
const { user, query } = useSession()

const STATE_WORDS: Record<string, string> = {
  idle: 'Idle',
  armed: 'ARMED',
  running: 'RUNNING',
  aborting: 'MAKING SAFE',
  coasting: 'Throttle zero, rotor still turning',
  zeroed: 'Throttle zero, speed unknown',
  safe: 'Safe',
  faulted: 'FAULT',
  watching: 'RECORDING, BY HAND',
  watched: 'Throttle in a hand, not cut from here',
}

const frame = computed(() => bench.frame)
const link = computed(() => {
  if (bench.away || !frame.value) return { word: 'Bench agent away', tone: 'over' }
  if (bench.silent_s) return { word: `No news for ${bench.silent_s} s`, tone: 'over' }
  if (!frame.value.link) return { word: 'No stand', tone: 'over' }
  if (bench.door.open && !bench.door.stand) return { word: 'Stand silent', tone: 'over' }
  return { word: frame.value.simulated ? 'Simulated stand' : 'Stand linked', tone: 'within' }
})
const state = computed(() => frame.value?.state ?? 'idle')
/** What the stand says of itself, where the agent says nothing. */
function bySelf(stand: StandNow | null): string {
  if (!stand) return 'State unknown'
  if (stand.throttle_pct === null) return 'Throttle not known, says the stand'
  if (stand.throttle_pct > 0) return `Throttle ${stand.throttle_pct} %, says the stand`
  if (stand.armed) return 'Armed, says the stand'
  if (stand.speed_rpm === null) return 'Throttle zero, speed unknown, says the stand'
  return stand.speed_rpm > 60
    ? 'Throttle zero, turning, says the stand'
    : 'Zero and still, says the stand'
}
const stateWord = computed(() => {
  if (state.value === 'idle' && frame.value?.end?.outcome === 'interrupted') return 'INTERRUPTED'
  // Without the agent nothing is known of the state but what the stand itself says.
  if (bench.away || bench.silent_s) return bySelf(bench.door.stand)
  return STATE_WORDS[state.value]
})
const watching = computed(() => state.value === 'watching')
const interrupted = computed(() => stateWord.value === 'INTERRUPTED')
const temperature = computed(() => frame.value?.values.motor_temp_c)
const ready = computed(() => {
  const after = frame.value?.after
  if (after) return readyWords(after, new Date())
  const left = frame.value?.ready_in_s
  if (left === null || left === undefined) return ''
  return left > 0 ? `ready in ~${duration(left)}` : 'cool'
})
const running = computed(() => {
  const progress = frame.value?.progress
  if (!bench.hot || !progress) return ''
  const elapsed = progress.elapsed_s === null ? '' : `${count(progress.elapsed_s)} of `
  const title = `${frame.value?.title ?? ''} · ${progress.label}`
  return progress.total_s === null ? title : `${title} · ${elapsed}${count(progress.total_s)} s`
})

async function logOut() {
  works(null)
  await api.DELETE('/api/v1/session/')
  client.clear()
  await router.push('/login')
  await query.refetch()
}
</script>

<template>
  <header class="strip" :class="state">
    <div class="info">
      <RouterLink to="/" class="name">Taut Spindle</RouterLink>
      <span class="tag" :class="link.tone">{{ link.word }}</span>
      <span role="status"
        ><RouterLink to="/bench" class="state" :class="[state, { interrupted }]">{{
          stateWord
        }}</RouterLink></span
      >
      <span v-if="temperature !== undefined" class="temp">
        Motor {{ formatNumber(temperature, 1) }}<span class="unit"> °C</span>
        <span v-if="ready" class="soft"> · {{ ready }}</span>
      </span>
      <span class="running" :title="running">{{ running }}</span>
    </div>
    <button
      class="stop"
      type="button"
      :disabled="!bench.canCut"
      :title="
        watching ? 'Ends the record; the throttle is in a hand' : 'Cuts the throttle and disarms'
      "
      @click="bench.stop()"
    >
      {{ watching ? 'END RECORD' : 'STOP' }} <span class="keys">Space · Esc</span>
    </button>
    <span v-if="user" class="who">
      <RouterLink to="/people" class="whose" title="Your password and logins"
        >{{ user.shown_name }} <span class="soft">{{ user.role }}</span></RouterLink
      >
      <button type="button" class="out" @click="logOut">Log out</button>
    </span>
  </header>
</template>

<style scoped>
.strip {
  grid-area: strip;
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 14px;
  background: var(--sheet);
  border-bottom: 2px solid var(--line);
  white-space: nowrap;
  min-width: 0;
}
.info {
  flex: 1;
  min-width: 0;
  display: flex;
  align-items: center;
  gap: 14px;
  overflow: hidden;
}
.strip.armed {
  border-bottom-color: var(--caution);
  background: var(--caution-soft);
}
.strip.running,
.strip.aborting,
.strip.coasting,
.strip.watching,
.strip.watched,
.strip.zeroed {
  border-bottom-color: var(--copper);
  background: var(--copper-soft);
}
.strip.faulted {
  border-bottom-color: var(--stop);
  background: var(--stop-soft);
}
.name {
  font-weight: 700;
  color: var(--ink);
  text-decoration: none;
}
.state {
  font-weight: 700;
  text-decoration: none;
  color: var(--within);
}
.state.armed {
  color: var(--caution-ink);
}
.state.running,
.state.aborting,
.state.coasting,
.state.zeroed,
.state.watching,
.state.watched,
.state.interrupted {
  color: var(--copper-dark);
}
.state.faulted {
  color: var(--stop);
}
.temp {
  font-size: 13px;
}
.temp .digits {
  font-family: var(--digits);
}
.unit {
  font-size: 0.85em;
}
.running {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 13px;
}
.stop {
  flex: none;
  background: var(--stop);
  color: var(--on-ink);
  border: 0;
  border-radius: 4px;
  font-weight: 700;
  padding: 7px 18px;
  letter-spacing: 0.06em;
  cursor: pointer;
}
.stop:disabled {
  background: transparent;
  color: var(--stop-still);
  box-shadow: inset 0 0 0 1.5px var(--stop-still-line);
  cursor: default;
}
.keys {
  font-weight: 400;
  font-size: 11px;
  letter-spacing: 0;
}
.who {
  font-size: 13px;
}
.whose {
  color: inherit;
}
.out {
  border: 0;
  background: none;
  text-decoration: underline;
  cursor: pointer;
  padding: 4px;
}
@media (max-width: 760px) {
  .name,
  .whose,
  .keys,
  .temp {
    display: none;
  }
  .strip {
    gap: 8px;
    padding: 0 8px;
  }
}
@media (max-width: 1100px) {
  .who .soft,
  .temp .soft {
    display: none;
  }
}
</style>
