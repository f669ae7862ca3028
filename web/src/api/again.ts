/**
 * A session that ended in mid-work. Who worked is asked for the password in place; what was being
 * sent waits, and is sent again for the same person, never for another.
 */
import { readonly, shallowRef } from 'vue'
import type { components } from './schema'

type User = components['schemas']['User']

const worker = shallowRef<User | null>(null)
const ended = shallowRef(false)
let asking: Promise<boolean> | null = null
let answer: (same: boolean) => void = () => {}

/** Who works on this page: the last who logged in and did not log out. */
export const whoWorks = readonly(worker)
/** Whether the password is asked for. */
export const sessionIsOver = readonly(ended)

/** Somebody logged in, or logged out by choice (null). */
export function works(user: User | null): void {
  const same = user !== null && user.id === worker.value?.id
  worker.value = user
  ended.value = false
  answer(same)
  asking = null
  answer = () => {}
}

/** The server knows nobody any more; resolves to whether the same person is back. */
export function sessionEnded(): Promise<boolean> {
  if (!worker.value) return Promise.resolve(false)
  ended.value = true
  asking ??= new Promise((resolve) => (answer = resolve))
  return asking
}
