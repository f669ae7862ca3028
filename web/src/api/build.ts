/** Whether the server has become another version since this page was opened. */
import { readonly, ref } from 'vue'

const HEADER = 'X-Spindle-Build'
let opened: string | null = null
const older = ref(false)

export const olderThanServer = readonly(older)

/** Look at an answer; the first that names a build says which one this page belongs to. */
export function noteBuild(response: Response): void {
  const build = response.headers.get(HEADER)
  if (!build) return
  opened ??= build
  if (build !== opened) older.value = true
}

/** For tests: as a page that was just opened. */
export function openedAnew(): void {
  opened = null
  older.value = false
}
