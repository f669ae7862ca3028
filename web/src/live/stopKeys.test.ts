import { afterEach, describe, expect, it, vi } from 'vitest'
import { catchStopKeys } from './stopKeys'

let release = () => {}
afterEach(() => release())

function press(target: EventTarget, key: string, repeat = false): KeyboardEvent {
  const event = new KeyboardEvent('keydown', { key, repeat, bubbles: true, cancelable: true })
  target.dispatchEvent(event)
  return event
}

describe('the stop keys', () => {
  it('reach the bench from inside a text field, and nothing else gets them', () => {
    const stop = vi.fn()
    const seen = vi.fn()
    const input = document.createElement('input')
    document.body.append(input)
    input.addEventListener('keydown', seen)
    release = catchStopKeys(() => true, stop)
    expect(press(input, ' ').defaultPrevented).toBe(true)
    press(input, 'Escape')
    expect(stop).toHaveBeenCalledTimes(2)
    expect(seen).not.toHaveBeenCalled()
  })

  it('are ordinary keys while nothing is armed', () => {
    const stop = vi.fn()
    release = catchStopKeys(() => false, stop)
    expect(press(document.body, ' ').defaultPrevented).toBe(false)
    expect(stop).not.toHaveBeenCalled()
  })

  it('let no native list open that would keep them to itself', () => {
    let may = true
    release = catchStopKeys(() => may, vi.fn())
    const select = document.createElement('select')
    document.body.append(select)
    const opening = { key: 'ArrowDown', altKey: true, bubbles: true, cancelable: true }
    const open = () => {
      const event = new KeyboardEvent('keydown', opening)
      select.dispatchEvent(event)
      const mouse = new MouseEvent('mousedown', { bubbles: true, cancelable: true })
      select.dispatchEvent(mouse)
      return [event.defaultPrevented, mouse.defaultPrevented]
    }
    expect(open()).toEqual([true, true])
    may = false
    expect(open()).toEqual([false, false])
  })

  it('stop by Space with any modifier, and by an on-screen keyboard', () => {
    const stop = vi.fn()
    release = catchStopKeys(() => true, stop)
    for (const more of [{ shiftKey: true }, { ctrlKey: true }, { key: 'Unidentified' }])
      document.body.dispatchEvent(
        new KeyboardEvent('keydown', { key: ' ', code: 'Space', bubbles: true, ...more }),
      )
    expect(stop).toHaveBeenCalledTimes(3)
  })

  it('leave other keys alone and count a held key once', () => {
    const stop = vi.fn()
    release = catchStopKeys(() => true, stop)
    press(document.body, 'a')
    press(document.body, ' ')
    press(document.body, ' ', true)
    expect(stop).toHaveBeenCalledTimes(1)
  })
})
