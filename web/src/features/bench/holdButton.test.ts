import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import HoldButton from './HoldButton.vue'

beforeEach(() =>
  vi.useFakeTimers({ toFake: ['performance', 'requestAnimationFrame', 'cancelAnimationFrame'] }),
)
afterEach(() => vi.useRealTimers())

function button(disabled = false) {
  return mount(HoldButton, {
    attachTo: document.body,
    props: { disabled, seconds: 1 },
    slots: { default: 'Arm' },
  })
}

describe('press and hold', () => {
  it('fires only after the whole time', async () => {
    const hold = button()
    await hold.trigger('pointerdown')
    vi.advanceTimersByTime(900)
    expect(hold.emitted('held')).toBeUndefined()
    vi.advanceTimersByTime(200)
    expect(hold.emitted('held')).toHaveLength(1)
  })

  it('does nothing when let go early, by pointer or by key', async () => {
    const hold = button()
    await hold.trigger('pointerdown')
    vi.advanceTimersByTime(600)
    await hold.trigger('pointerup')
    await hold.trigger('keydown', { key: 'Enter' })
    vi.advanceTimersByTime(600)
    await hold.trigger('keyup', { key: 'Enter' })
    vi.advanceTimersByTime(2000)
    expect(hold.emitted('held')).toBeUndefined()
  })

  it('works with Enter held and does not start anew on key repeat', async () => {
    const hold = button()
    await hold.trigger('keydown', { key: 'Enter' })
    vi.advanceTimersByTime(700)
    await hold.trigger('keydown', { key: 'Enter', repeat: true })
    vi.advanceTimersByTime(400)
    expect(hold.emitted('held')).toHaveLength(1)
  })

  it('cannot be held while disabled', async () => {
    const hold = button(true)
    await hold.trigger('keydown', { key: 'Enter' })
    vi.advanceTimersByTime(2000)
    expect(hold.emitted('held')).toBeUndefined()
  })

  it('ends with what hinders it, and does not go on when that is over', async () => {
    const hold = button()
    await hold.trigger('pointerdown')
    vi.advanceTimersByTime(900)
    // The stop door shuts under the finger: a disabled button gets no pointerup.
    await hold.setProps({ disabled: true })
    vi.advanceTimersByTime(50)
    await hold.setProps({ disabled: false })
    vi.advanceTimersByTime(2000)
    expect(hold.emitted('held')).toBeUndefined()
    expect(hold.attributes('style')).toContain('--share: 0')
  })

  it('is not held by a page that stood still: what it did not see does not count', async () => {
    const hold = button()
    const since = performance.now()
    await hold.trigger('pointerdown')
    vi.advanceTimersByTime(100)
    vi.spyOn(performance, 'now').mockImplementation(() => since + 5000)
    vi.advanceTimersByTime(20)
    expect(hold.emitted('held')).toBeUndefined()
    vi.mocked(performance.now).mockRestore()
  })

  it.each([' ', 'Escape'])('ends with the stop key %j, wherever that is pressed', async (key) => {
    const hold = button()
    await hold.trigger('pointerdown')
    vi.advanceTimersByTime(500)
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
    vi.advanceTimersByTime(2000)
    expect(hold.emitted('held')).toBeUndefined()
  })

  it('fires no more once its page is gone', async () => {
    const hold = button()
    await hold.trigger('keydown', { key: 'Enter' })
    vi.advanceTimersByTime(900)
    hold.unmount()
    vi.advanceTimersByTime(2000)
    expect(hold.emitted('held')).toBeUndefined()
  })
})
