/**
 * A form over one fact of the record: its draft outlives a reload and a lost server, and a write
 * that comes too late leads to a merge instead of overwriting.
 */
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { type Current, currentOf } from '@/api/client'
import type { Values } from './merge'

interface Draft<T extends Values> {
  /** What the record held when writing began, and its version. */
  base: T
  version: number
  values: T
}

export function useFactForm<T extends Values>(options: {
  key: () => string
  /** What the record holds now; undefined while it is loading. */
  stored: () => { values: T; version: number } | undefined
  /** Writes, and says which version stands now. */
  write: (values: T, version: number) => Promise<number>
}) {
  const drafts = useLocalStorage<Record<string, Draft<T>>>('spindle.drafts', {})
  const form = ref<T>({} as T)
  const base = ref<T>({} as T)
  const version = ref(0)
  const problem = ref<unknown>(null)
  const conflict = ref<Current | null>(null)
  const busy = ref(false)
  const saved = ref(false)

  const dirty = computed(() => JSON.stringify(form.value) !== JSON.stringify(base.value))

  function take(values: T, at: number) {
    base.value = { ...values }
    form.value = { ...values }
    version.value = at
  }

  watch(
    [options.key, options.stored] as const,
    ([key, stored], before) => {
      if (!stored) return
      const draft = drafts.value[key]
      if (draft && key !== before?.[0]) {
        take(draft.base, draft.version)
        form.value = { ...draft.base, ...draft.values }
      } else if (!dirty.value || key !== before?.[0]) {
        take(stored.values, stored.version)
      }
    },
    { immediate: true, deep: true },
  )

  watch(
    form,
    () => {
      const key = options.key()
      if (!Object.keys(form.value as object).length) return
      if (dirty.value) {
        saved.value = false
        drafts.value[key] = {
          base: base.value as T,
          version: version.value,
          values: form.value as T,
        }
      } else if (key in drafts.value) Reflect.deleteProperty(drafts.value, key)
    },
    { deep: true },
  )

  let again = false
  /**
   * Write what is in the form, or what was settled in a merge. Writes go one after the other: a
   * field left while the one before is on its way is written next, from the version that made.
   */
  async function save(settled?: T, at: number = version.value): Promise<void> {
    if (busy.value) {
      again = true
      return
    }
    problem.value = null
    busy.value = true
    const sent = { ...(settled ?? (form.value as T)) }
    try {
      const now = await options.write(sent, at)
      conflict.value = null
      base.value = { ...sent }
      version.value = now
      if (settled) form.value = { ...sent }
      if (!dirty.value) Reflect.deleteProperty(drafts.value, options.key())
      saved.value = true
    } catch (failure) {
      const current = currentOf(failure)
      if (current) conflict.value = current
      else problem.value = failure
      again = false
    } finally {
      busy.value = false
    }
    if (again && dirty.value) {
      again = false
      await save()
    }
  }

  /** Drop what was typed and show what the record holds. */
  function drop() {
    const stored = options.stored()
    conflict.value = null
    problem.value = null
    if (stored) take(stored.values, stored.version)
    Reflect.deleteProperty(drafts.value, options.key())
  }

  return { form, base, dirty, problem, conflict, busy, saved, save, drop }
}
