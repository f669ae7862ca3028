import { describe, expect, it } from 'vitest'
import { neighbour, ringFill, STATIONS, stationOf } from './stations'

describe('the spindle', () => {
  it('knows which station a page belongs to', () => {
    expect(stationOf('/runs/12')).toBe('runs')
    expect(stationOf('/import')).toBe('runs')
    expect(stationOf('/readings')).toBe('bench')
    expect(stationOf('/motors/3')).toBe('')
    expect(stationOf('/')).toBe('')
  })

  it('moves along built stations only and round the ends', () => {
    expect(neighbour('/rig', 1).key).toBe('plan')
    expect(neighbour('/bench', -1).key).toBe('plan')
    expect(neighbour('/compare', 1).key).toBe('rank')
    expect(neighbour('/publish', 1).key).toBe('intake')
    expect(neighbour('/', 1).key).toBe('intake')
    expect(neighbour('/', -1).key).toBe('publish')
  })

  it('fills a ring by the evidence that is there', () => {
    const motor = { claims: 2, observations: 10, runs: 1, most_repeats: 1 }
    expect(ringFill('intake', motor, 20)).toBe(0.5)
    expect(ringFill('teardown', motor, 20)).toBe(0.5)
    expect(ringFill('bench', motor, 20)).toBeCloseTo(1 / 3)
    expect(ringFill('rig', motor, 20)).toBeNull()
    expect(ringFill('intake', null, 20)).toBeNull()
  })

  it('has every station of the work', () => {
    expect(STATIONS.map((s) => s.label).join(' ')).toBe(
      'Intake Teardown Rig Plan Bench Runs Compare Rank Match Publish',
    )
  })

  it('has pages that can be taken in at a look: under 200 lines each', () => {
    const pages = import.meta.glob<string>('../features/*/*Page.vue', {
      query: '?raw',
      import: 'default',
      eager: true,
    })
    const lines = Object.entries(pages).map(([path, text]) => ({
      path,
      lines: text.split('\n').length - 1,
    }))
    expect(lines.length).toBeGreaterThan(20)
    expect(lines.filter((page) => page.lines >= 200)).toEqual([])
  })
})
