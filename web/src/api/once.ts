/**
 * A write whose answer never came may have been carried out. Whoever sends the same again does not
 * want it twice: it goes under the key of the first try, and the server answers as it did then.
 */

/** Keys of what was sent and has no answer yet, by what was sent. */
const unanswered = new Map<string, string>()

const LETTERS = '0123456789abcdefghijklmnopqrstuvwxyz'

/** 24 letters by chance; `crypto.randomUUID` is missing where a bench is reached without TLS. */
function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(24)), (one) => LETTERS[one % 36]).join('')
}

/** The key of a write: of its earlier try, where that was not answered. */
export function keyFor(sent: string): string {
  const known = unanswered.get(sent)
  if (known !== undefined) return known
  const made = newKey()
  unanswered.set(sent, made)
  return made
}

/**
 * An answer came. A server that stumbles, or a proxy in its stead, does not say what became of the
 * write; nor does one that is still at it.
 */
export function answered(sent: string, status: number, stillUnderWay: boolean): void {
  if (status < 500 && !stillUnderWay) unanswered.delete(sent)
}

/** What is sent with a form, in a word. */
export function printOf(path: string, form: FormData): string {
  const parts = [...form].map(([name, value]) =>
    value instanceof File ? [name, value.name, value.size, value.lastModified] : [name, value],
  )
  return JSON.stringify([path, parts])
}
