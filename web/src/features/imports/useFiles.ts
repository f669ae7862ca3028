/** Files that were dropped: each is opened, looked at, stored; one after the other. */
import { computed, ref, shallowRef } from 'vue'
import { type Schemas, sendForm } from '@/api/client'
import { isLarge, lookAtLarge } from './large'

export interface ImportedFile {
  file: File
  /** The number of a large file in the inbox: it is read from there and not sent. */
  inbox: number | null
  opened: Schemas['Opened'] | null
  problem: unknown
  /** Numbers of the runs it became. */
  stored: number[]
}

/** Where a file stands that is neither stored nor refused. */
export function standing({ opened }: ImportedFile): string {
  if (!opened) return 'reading…'
  if (opened.stored_as) return `is run ${opened.stored_as} already`
  if (opened.asks)
    return `${opened.asks} ${opened.asks === 1 ? 'column wants' : 'columns want'} a look`
  if (opened.problem) return opened.problem
  if (opened.runs.some((run) => !run.sample)) return 'wants to know whose it is'
  return opened.known_as ? `ready, read as “${opened.known_as}”` : 'ready'
}

export function useFiles() {
  const files = shallowRef<ImportedFile[]>([])
  const chosen = ref(0)
  const current = computed(() => files.value[chosen.value] ?? null)
  const change = (file: File, changed: Partial<ImportedFile>) => {
    files.value = files.value.map((one) => (one.file === file ? { ...one, ...changed } : one))
  }
  /** The next that still wants something; a folder is gone through from top to bottom. */
  const goOn = () => {
    const next = files.value.findIndex((one) => one.opened && !one.stored.length && !one.problem)
    if (next >= 0) chosen.value = next
  }
  async function look(file: File, inbox: number | null) {
    if (inbox !== null || isLarge(file)) return lookAtLarge(file, inbox)
    const form = new FormData()
    form.append('file', file)
    return sendForm<Schemas['Opened']>('/api/v1/imports/open/', form)
  }
  async function add(file: File, inbox: number | null = null) {
    const alone = !files.value.some((one) => one.opened && !one.stored.length)
    files.value = [...files.value, { file, inbox, opened: null, problem: null, stored: [] }]
    try {
      change(file, { opened: await look(file, inbox) })
      if (alone) goOn()
    } catch (error) {
      change(file, { problem: error })
    }
  }
  const stored = (file: File, runs: readonly { id: number }[]) => {
    change(file, { stored: runs.map((run) => run.id) })
    goOn()
  }
  return { files, chosen, current, add, stored }
}
