/** A large log on its way: announced, sent part by part, stored by long work. */
import { ref } from 'vue'
import { api, dataOf, isOffline, type Schemas, sendPart } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { samenessOf } from './large'

const LOOKS_EVERY_MS = 700
/** A part that did not arrive is sent again, so many times. */
const TRIES = 4
/** Parts on their way at one time. */
const AT_ONCE = 2

export type Asked = Omit<Schemas['LargeAskRequest'], 'name' | 'size' | 'sameness' | 'inbox'>

class StoppedByPersonError extends Error {}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

export function useLargeFile() {
  const stage = ref<'' | 'sending' | 'storing'>('')
  const done = ref(0)
  const total = ref(0)
  const unit = ref('MB')
  const stopping = ref(false)
  const work = ref<number | null>(null)

  async function sendAgain(id: number, index: number, part: Blob) {
    for (let tries = 1; ; tries += 1) {
      try {
        return await sendPart(id, index, part)
      } catch (error) {
        if (tries >= TRIES || !isOffline(error)) throw error
        await pause(1000 * tries)
      }
    }
  }

  async function send(file: File, large: Schemas['LargeFile']) {
    stage.value = 'sending'
    const here = new Set(large.parts_here)
    const begin = (index: number) => Math.min(file.size, index * large.part_bytes)
    const sizeOf = (index: number) => begin(index + 1) - begin(index)
    const parts = [...Array(Math.ceil(file.size / large.part_bytes)).keys()]
    let arrived = parts.reduce((sum, at) => sum + (here.has(at) ? sizeOf(at) : 0), 0)
    done.value = Math.round(arrived / 1e6)
    const waiting = parts.filter((index) => !here.has(index))
    let failed = false
    async function sendWaiting() {
      for (let index = waiting.shift(); index !== undefined; index = waiting.shift()) {
        if (failed) return
        if (stopping.value) throw new StoppedByPersonError('It was stopped; what came stays here.')
        try {
          await sendAgain(large.id, index, file.slice(begin(index), begin(index + 1)))
        } catch (error) {
          failed = true
          throw error
        }
        arrived += sizeOf(index)
        done.value = Math.round(arrived / 1e6)
      }
    }
    // One part is on its way while the one before it is stored.
    const ways = await Promise.allSettled(Array.from({ length: AT_ONCE }, sendWaiting))
    const problem = ways.find((way) => way.status === 'rejected')
    if (problem) throw problem.reason
  }

  /** Wait until it is a run, or is not going to be. */
  async function followed(id: number): Promise<number> {
    for (;;) {
      const now = dataOf(await api.GET('/api/v1/imports/large/{id}/', { params: { path: { id } } }))
      work.value = now.work ?? null
      done.value = now.work_done ?? 0
      total.value = now.work_total ?? 0
      unit.value = now.work_unit ?? 'MB'
      if (now.state === 'stored' && now.run) return now.run
      if (now.state !== 'storing') throw new Error(now.problem || 'It was not stored.')
      await pause(LOOKS_EVERY_MS)
    }
  }

  async function way(file: File, inbox: number | null, asked: Asked): Promise<number> {
    stopping.value = false
    work.value = null
    done.value = 0
    total.value = Math.round(file.size / 1e6)
    unit.value = 'MB'
    const same = inbox === null ? samenessOf(file) : `inbox-${inbox}`
    const body = { ...asked, name: file.name, size: Math.max(1, file.size), sameness: same, inbox }
    const large = dataOf(await api.POST('/api/v1/imports/large/', { body }))
    if (inbox === null) await send(file, large)
    const path = { id: large.id }
    await api.POST('/api/v1/imports/large/{id}/store/', { params: { path } })
    stage.value = 'storing'
    return followed(large.id)
  }

  const storing = useWrite('run', (sent: [File, number | null, Asked]) => way(...sent))

  async function stop() {
    stopping.value = true
    if (stage.value === 'storing' && work.value !== null)
      await api.POST('/api/v1/work/{id}/stop/', { params: { path: { id: work.value } } })
  }

  return {
    stage,
    done,
    total,
    unit,
    stopping,
    stop,
    busy: storing.busy,
    problem: storing.problem,
    /** The number of the run it has become; null where it has not, and {@link problem} says why. */
    async store(file: File, inbox: number | null, asked: Asked): Promise<number | null> {
      const run = await storing.send([file, inbox, asked])
      stage.value = ''
      return run ?? null
    },
  }
}

export type LargeFileOnItsWay = ReturnType<typeof useLargeFile>
