import { describe, expect, it } from 'vitest'
import { channelOf, extendTrail, type TrailPoint } from './trail'

const at = (time_s: number, thrust_gf = time_s): TrailPoint => ({ time_s, values: { thrust_gf } })

describe('the trail of live values', () => {
  it('keeps a quarter of an hour, a long soak whole', () => {
    let trail: TrailPoint[] = []
    for (let t = 0; t <= 1000; t += 10) trail = extendTrail(trail, t, { thrust_gf: t })
    expect(trail[0]?.time_s).toBe(100)
    expect(trail.at(-1)?.time_s).toBe(1000)
  })

  it('thins what is old and keeps what is new', () => {
    let trail: TrailPoint[] = []
    for (let t = 0; t < 6000; t++) trail = extendTrail(trail, t / 20, { thrust_gf: t })
    expect(trail.length).toBeLessThanOrEqual(4000)
    expect(trail[0]?.time_s).toBe(0)
    expect(trail.slice(-100).map((point) => point.values.thrust_gf)).toEqual(
      Array.from({ length: 100 }, (_, i) => 5900 + i),
    )
  })

  it('begins anew when the stand does', () => {
    expect(extendTrail([at(50), at(60)], 0.1, {})).toHaveLength(1)
  })

  it('does not repeat a moment', () => {
    const trail = [at(5)]
    expect(extendTrail(trail, 5, { thrust_gf: 9 })).toBe(trail)
  })

  it('gives a channel relative to the start of a run, with gaps', () => {
    const trail = [at(1), at(2), { time_s: 3, values: {} }, at(4)]
    expect(channelOf(trail, 'thrust_gf', 2)).toEqual([
      [0, 2],
      [1, null],
      [2, 4],
    ])
  })
})
