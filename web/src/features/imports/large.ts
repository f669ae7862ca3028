/** Logs that are too large for one request: what is known of them beforehand. */
import { type Schemas, sendForm } from '@/api/client'
import { count } from '@/figures/format'

/** Beyond this a file comes in parts. */
const LARGE_BYTES = 30_000_000
/** So much of a file tells what it is. */
const TELLING_BYTES = 1_000_000

export const isLarge = (file: File) => file.size > LARGE_BYTES

/** What tells what a file is: its beginning, of Parquet its end. */
export const tellingPart = (file: File): Blob =>
  file.name.toLowerCase().endsWith('.parquet')
    ? file.slice(Math.max(0, file.size - TELLING_BYTES))
    : file.slice(0, TELLING_BYTES)

/** A large file looked at by that part; one of the inbox by what lies there. */
export function lookAtLarge(file: File, inbox: number | null, mapping?: string) {
  const form = new FormData()
  if (inbox !== null) form.append('inbox', String(inbox))
  else {
    form.append('part', tellingPart(file), file.name)
    form.append('name', file.name)
    form.append('size', String(file.size))
  }
  if (mapping !== undefined) form.append('mapping', mapping)
  return sendForm<Schemas['Opened']>('/api/v1/imports/large/open/', form)
}

/** By which the bench knows the same file again. */
export const samenessOf = (file: File) => `${file.size}-${file.lastModified}`

const inMB = (bytes: number) => count(bytes / 1e6)
export const megabytes = (bytes: number) => `${inMB(bytes)} MB`

type Large = Pick<Schemas['LargeFile'], 'state' | 'here' | 'size' | 'problem'>

/** Where a large file stands that is no run yet. */
export function largeStands({ state, here, size, problem }: Large): string {
  if (state === 'storing') return 'being stored'
  const whole = here >= size
  const said = whole ? 'all of it is here' : `${inMB(here)} of ${megabytes(size)} are here`
  if (problem) return whole ? problem : `${problem} ${said}.`
  return whole ? said : `${said}; choose the same file again to go on`
}
