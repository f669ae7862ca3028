/** The live state of the bench: one event stream per tab, shared by strip and console. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, dataOf, type Schemas } from '@/api/client'
import { StopDoor, type DoorView } from './stopDoor'
import { extendTrail, type TrailPoint } from './trail'

export type Frame = Schemas['Frame']

const HOT_STATES = ['armed', 'running', 'aborting', 'coasting', 'watching']
/** The read-back said zero. */
const ZERO_STATES = ['coasting', 'zeroed', 'safe', 'idle']
const RETRY_MS = 1000
const ARRIVES_WITHIN_MS = 900
/** Frames come five to twenty a second; this long without one, nothing on the screen is news. */
const STALE_MS = 1000
export const NOT_ENDED = 'The record could not be ended. The throttle is in your hand: cut it.'
export const NOT_ARRIVED = 'STOP did not arrive: cut the supply by hand.'

export const useBench = defineStore('bench', () => {
  const frame = shallowRef<Frame | null>(null)
  const away = ref(false)
  /** Seconds since the last frame, 0 while they come. */
  const silent_s = ref(0)
  const trail = shallowRef<TrailPoint[]>([])
  const door = shallowRef<DoorView>({ open: false, stand: null, troubles: [] })
  const arming = ref(false)
  const stopProblem = ref('')
  const stopNews = ref('')
  /** A stop that nothing has confirmed yet. */
  const stopping = ref(false)
  let source: EventSource | null = null
  let retry: ReturnType<typeof setTimeout> | undefined
  let alarm: ReturnType<typeof setTimeout> | undefined
  let asked = 0
  let lastFrame = 0
  let looking: ReturnType<typeof setInterval> | undefined

  /** Whether a run is armed, running or on its way to rest. */
  const hot = computed(() => HOT_STATES.includes(frame.value?.state ?? ''))
  /** Whether there is something to cut: by what the agent says, or by what the stand says itself. */
  const canCut = computed(
    () =>
      hot.value ||
      arming.value ||
      stopping.value ||
      frame.value?.state === 'faulted' ||
      Boolean(door.value.stand?.armed) ||
      (door.value.stand?.throttle_pct ?? 0) > 0,
  )

  const theDoor = new StopDoor(
    async () => dataOf(await api.GET('/api/v1/bench/door/')),
    (view) => {
      door.value = view
      lookForSilence()
    },
    (id, arrived) => {
      if (id !== asked) return
      if (arrived) confirmed()
      else shout()
    },
  )

  function lookForSilence() {
    const silent_ms = performance.now() - lastFrame
    silent_s.value = frame.value && silent_ms > STALE_MS ? Math.round(silent_ms / 1000) : 0
  }

  function take(next: Frame) {
    away.value = false
    lastFrame = performance.now()
    silent_s.value = 0
    if (next.state === 'armed') stopNews.value = ''
    frame.value = next
    if (next.time_s !== null && Object.keys(next.values).length)
      trail.value = extendTrail(trail.value, next.time_s, next.values)
    if (stopping.value && next.link && ZERO_STATES.includes(next.state)) confirmed()
    theDoor.poke()
  }

  function connect() {
    theDoor.enter()
    looking ??= setInterval(lookForSilence, 500)
    if (source) return
    source = new EventSource('/api/v1/bench/stream/')
    source.onmessage = (event: MessageEvent<string>) => take(JSON.parse(event.data) as Frame)
    source.addEventListener('away', () => {
      away.value = true
      theDoor.poke()
    })
    source.onerror = () => {
      away.value = true
      if (source?.readyState === EventSource.CLOSED) {
        source.close()
        source = null
        retry = setTimeout(connect, RETRY_MS)
      }
    }
  }

  function disconnect() {
    clearTimeout(retry)
    clearInterval(looking)
    looking = undefined
    source?.close()
    source = null
    theDoor.leave()
  }

  function confirmed() {
    clearTimeout(alarm)
    if (stopProblem.value) stopNews.value = 'The stand has answered: throttle zero.'
    stopping.value = false
    stopProblem.value = ''
  }

  function shout() {
    if (stopping.value) stopProblem.value = NOT_ARRIVED
  }

  /**
   * The stop key: through the door and by the ordinary request, both at once. Only a read-back of
   * zero counts as arrived; without one the page says so within a second.
   */
  async function stop() {
    clearTimeout(alarm)
    stopProblem.value = stopNews.value = ''
    if (frame.value?.state === 'watching') {
      await endRecord()
      return
    }
    stopping.value = true
    asked = theDoor.cut() ?? -1
    alarm = setTimeout(shout, ARRIVES_WITHIN_MS)
    try {
      take(dataOf(await api.POST('/api/v1/bench/stop/', { signal: AbortSignal.timeout(5000) })))
    } catch {
      // The door's answer, a frame or the alarm says how it went.
    }
  }

  /** By hand there is nothing to cut from here: the record ends, and the page does not say more. */
  async function endRecord() {
    theDoor.cut()
    try {
      take(dataOf(await api.POST('/api/v1/bench/stop/', { signal: AbortSignal.timeout(5000) })))
    } catch {
      stopProblem.value = NOT_ENDED
    }
  }

  return {
    frame,
    away,
    silent_s,
    trail,
    door,
    hot,
    canCut,
    arming,
    stopping,
    stopProblem,
    stopNews,
    take,
    connect,
    disconnect,
    stop,
  }
})
