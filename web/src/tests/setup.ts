/** Before every file of tests: the words that pages are given after logging in. */
import { config, disableAutoUnmount, enableAutoUnmount } from '@vue/test-utils'
import { afterEach, expect, vi } from 'vitest'
import words from './words.json'
import { tell, type Words } from '@/words/words'

tell(words as Words)

// Files share one process and what they import; each takes down what it put up.
disableAutoUnmount()
enableAutoUnmount(afterEach)

// What Vue warns of, a property that a page never gets for one, is a fault of the page or the test.
const warned: string[] = []
config.global.config.warnHandler = (message, _, trace) => warned.push(`${message}${trace}`)
afterEach(() => expect(warned.splice(0)).toEqual([]))

// The browser made of paper writes a whole element out where one asks what it is called, and what
// places dropdowns asks that of every element above them: most of the time of the tests went there.
Object.defineProperty(Element.prototype, 'toString', {
  configurable: true,
  value(this: Element) {
    return `[object ${this.constructor.name}]`
  },
})

// What a test waits for comes late on a busy machine. This ends one that waits for what never comes.
const PATIENCE_MS = 20_000
const given = vi.waitFor
if (given.name !== 'patiently')
  vi.waitFor = function patiently(look, options) {
    return given(look, options ?? PATIENCE_MS)
  }
