/** The live state of the bench: one event stream per tab, shared by strip and console. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { extendTrail, type TrailPoint } from './trail'

export type Frame = Schemas['Frame']

const HOT_STATES = ['armed', 'running', 'aborting']
const RETRY_MS = 1000

export const useBench = defineStore('bench', () => {
  const frame = shallowRef<Frame | null>(null)
  const away = ref(false)
  const trail = shallowRef<TrailPoint[]>([])
  const stopProblem = ref('')
  let source: EventSource | null = null
  let retry: ReturnType<typeof setTimeout> | undefined

  /** Whether something can turn or is about to: the stop keys are caught everywhere. */
  const hot = computed(() => HOT_STATES.includes(frame.value?.state ?? ''))

  function take(next: Frame) {
    away.value = false
    frame.value = next
    if (next.time_s !== null && Object.keys(next.values).length)
      trail.value = extendTrail(trail.value, next.time_s, next.values)
  }

  function connect() {
    if (source) return
    source = new EventSource('/api/v1/bench/stream/')
    source.onmessage = (event: MessageEvent<string>) => take(JSON.parse(event.data) as Frame)
    source.addEventListener('away', () => (away.value = true))
    source.onerror = () => {
      away.value = true
      if (source?.readyState === EventSource.CLOSED) {
        disconnect()
        retry = setTimeout(connect, RETRY_MS)
      }
    }
  }

  function disconnect() {
    clearTimeout(retry)
    source?.close()
    source = null
  }

  /** The stop key: sent at once, and said loudly when it did not arrive. */
  async function stop() {
    stopProblem.value = ''
    try {
      take(dataOf(await api.POST('/api/v1/bench/stop/')))
    } catch (error) {
      stopProblem.value = `STOP did not arrive: use the hardware kill switch. (${sentenceOf(error)})`
    }
  }

  return { frame, away, trail, hot, stopProblem, take, connect, disconnect, stop }
})
