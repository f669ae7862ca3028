import { describe, expect, it } from 'vitest'
import { motorMark, runMarks } from './motorMark'

describe('the mark of a motor', () => {
  it('is the same every time and different for neighbours', () => {
    expect(motorMark(3)).toEqual(motorMark(3))
    expect(motorMark(3).color).not.toBe(motorMark(4).color)
    expect(motorMark(3).symbol).not.toBe(motorMark(4).symbol)
  })

  it('does not repeat colour and symbol together within sixteen motors', () => {
    const marks = Array.from({ length: 16 }, (_, i) => motorMark(i + 1))
    expect(new Set(marks.map((m) => m.color + m.symbol)).size).toBe(16)
  })

  it('tells runs of one motor apart by dash and symbol, not by colour', () => {
    const [first, second] = runMarks([5, 5])
    expect(second?.color).toBe(first?.color)
    expect(second?.dash).not.toEqual(first?.dash)
    expect(second?.symbol).not.toBe(first?.symbol)
  })
})
