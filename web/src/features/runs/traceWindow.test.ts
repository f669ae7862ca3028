import { describe, expect, it } from 'vitest'
import { askedFor, isAll, moved, percentOf, scaled, spanOf } from './traceWindow'

const WHOLE = { from: 10, until: 3610 }

describe('the part of a trace that is looked at', () => {
  it('comes nearer around its middle, and never beyond the ends', () => {
    expect(scaled(WHOLE, WHOLE, 0.5)).toEqual({ from: 910, until: 2710 })
    expect(scaled({ from: 10, until: 20 }, WHOLE, 4)).toEqual({ from: 10, until: 50 })
    expect(scaled({ from: 3600, until: 3610 }, WHOLE, 1000)).toEqual(WHOLE)
    const nearest = scaled({ from: 100, until: 100.003 }, WHOLE, 1e-6)
    expect(nearest.until - nearest.from).toBeCloseTo(0.002, 6)
  })

  it('moves as far as there is anything', () => {
    expect(moved({ from: 100, until: 200 }, WHOLE, 0.5)).toEqual({ from: 150, until: 250 })
    expect(moved({ from: 20, until: 120 }, WHOLE, -0.5)).toEqual({ from: 10, until: 110 })
    expect(moved({ from: 3550, until: 3610 }, WHOLE, 3)).toEqual({ from: 3550, until: 3610 })
    expect(moved(WHOLE, WHOLE, 0.5)).toEqual(WHOLE)
  })

  it('is what the chart says, and says to the chart what it is', () => {
    const part = spanOf(25, 75, WHOLE)
    expect(part).toEqual({ from: 910, until: 2710 })
    expect(percentOf(part, WHOLE)).toEqual([25, 75])
    expect(spanOf(-3, 140, WHOLE)).toEqual(WHOLE)
  })

  it('is read with as much on both sides, and whole as a whole', () => {
    expect(askedFor({ from: 100, until: 110 }, WHOLE)).toEqual({ from_s: 95, until_s: 115 })
    expect(askedFor(WHOLE, WHOLE)).toBeNull()
    expect(isAll({ from: 11, until: 3609 }, WHOLE)).toBe(true)
  })

  it('bears a run of one sample', () => {
    const none = { from: 5, until: 5 }
    expect(scaled(none, none, 0.5)).toEqual(none)
    expect(percentOf(none, none)).toEqual([0, 0])
    expect(askedFor(none, none)).toBeNull()
  })
})
