import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import HoldButton from './HoldButton.vue'

beforeEach(() =>
  vi.useFakeTimers({ toFake: ['performance', 'requestAnimationFrame', 'cancelAnimationFrame'] }),
)
afterEach(() => vi.useRealTimers())

function button(disabled = false) {
  return mount(HoldButton, { props: { disabled, seconds: 1 }, slots: { default: 'Arm' } })
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
})
