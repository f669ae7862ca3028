/**
 * The prose of a verdict while it is written: kept by itself a moment after the last key, drafts
 * outlive a reload and a lost server, and two people at one section are shown to each other.
 */
import { useQueryClient } from '@tanstack/vue-query'
import type { JSONContent } from '@tiptap/core'
import { useLocalStorage } from '@vueuse/core'
import { computed, onScopeDispose, ref, type Ref, watch } from 'vue'
import { api, currentOf, dataOf, sentenceOf } from '@/api/client'
import type { Schemas } from '@/api/client'
import { verdictQuery } from '@/api/verdictQueries'

type Verdict = Schemas['Verdict']
interface Draft {
  prose: JSONContent
  version: number
}
/** What somebody else wrote into a section that is being written. */
export interface Rival {
  who: string
  prose: JSONContent
  version: number
}

export const WAIT_MS = 1200

const EMPTY: JSONContent = { type: 'doc', content: [] }

export function useProse(id: Ref<number>, verdict: Ref<Verdict | undefined>) {
  const client = useQueryClient()
  const drafts = useLocalStorage<Record<string, Draft>>('spindle.prose', {})
  const pending = ref<Record<string, JSONContent>>({})
  const base = ref<Record<string, number>>({})
  const rivals = ref<Record<string, Rival>>({})
  const busy = ref(false)
  const fault = ref('')
  const kept = ref(false)
  let timer: ReturnType<typeof setTimeout> | undefined

  const keyOf = (section: string) => `${id.value}/${section}`
  // What was written here before a reload and did not arrive.
  watch(
    verdict,
    (now, before) => {
      if (!now || now.id === before?.id) return
      pending.value = {}
      rivals.value = {}
      for (const section of now.sections) {
        const draft = drafts.value[keyOf(section.key)]
        if (!draft) continue
        pending.value[section.key] = draft.prose
        base.value[section.key] = draft.version
      }
      if (Object.keys(pending.value).length) timer = setTimeout(() => void flush(), WAIT_MS)
    },
    { immediate: true },
  )

  const stored = (section: string): JSONContent =>
    (verdict.value?.sections.find((one) => one.key === section)?.prose as JSONContent) ?? EMPTY
  const proseOf = (section: string): JSONContent => pending.value[section] ?? stored(section)

  function write(section: string, prose: JSONContent) {
    kept.value = false
    if (!(section in pending.value)) base.value[section] = verdict.value?.version ?? 0
    pending.value[section] = prose
    drafts.value[keyOf(section)] = { prose, version: base.value[section] ?? 0 }
    clearTimeout(timer)
    timer = setTimeout(() => void flush(), WAIT_MS)
  }

  /** Keep what is not kept yet, section by section. */
  async function flush(): Promise<void> {
    clearTimeout(timer)
    if (busy.value) return
    const open = Object.keys(pending.value).filter((key) => !(key in rivals.value))
    if (!open.length) return
    busy.value = true
    fault.value = ''
    let refused = false
    for (const section of open) {
      if (!(await keep(section))) refused = true
    }
    busy.value = false
    kept.value = !refused && !Object.keys(pending.value).length
    // What was typed while this was on its way goes next.
    if (!refused && Object.keys(pending.value).some((key) => !(key in rivals.value)))
      timer = setTimeout(() => void flush(), WAIT_MS)
  }

  async function keep(section: string): Promise<boolean> {
    const sent = pending.value[section] as JSONContent
    try {
      const now = dataOf(
        await api.PATCH('/api/v1/verdicts/{id}/', {
          params: { path: { id: id.value } },
          body: { version: base.value[section] ?? 0, sections: { [section]: sent } },
        }),
      )
      take(now)
      if (JSON.stringify(pending.value[section]) === JSON.stringify(sent)) forget(section)
      else base.value[section] = now.version
      return true
    } catch (failure) {
      const current = currentOf(failure)
      if (!current) {
        fault.value = sentenceOf(failure)
        return false
      }
      const theirs = (current.values.sections ?? {}) as Record<string, JSONContent>
      rivals.value[section] = {
        who: current.who,
        prose: theirs[section] ?? EMPTY,
        version: current.version,
      }
      return false
    }
  }

  function take(now: Verdict) {
    client.setQueryData(verdictQuery(id.value).queryKey, now)
    void client.invalidateQueries({ queryKey: ['verdicts'] })
    void client.invalidateQueries({ queryKey: ['notes', id.value] })
    void client.invalidateQueries({ queryKey: ['proposals', id.value] })
  }

  function forget(section: string) {
    Reflect.deleteProperty(pending.value, section)
    Reflect.deleteProperty(drafts.value, keyOf(section))
  }

  /** Of two versions of a section the one that is to stand. */
  async function settle(section: string, mine: boolean) {
    const rival = rivals.value[section]
    if (!rival) return
    Reflect.deleteProperty(rivals.value, section)
    if (mine) {
      base.value[section] = rival.version
      return flush()
    }
    forget(section)
    await client.invalidateQueries({ queryKey: ['verdict', id.value] })
  }

  onScopeDispose(() => {
    // Whoever leaves the page leaves nothing behind unkept.
    if (timer !== undefined) void flush()
  })

  return {
    proseOf,
    write,
    flush,
    settle,
    take,
    rivals,
    busy,
    fault,
    kept,
    unkept: computed(() => Object.keys(pending.value).length > 0),
  }
}
