import { describe, expect, it } from 'vitest'
import { sized, standaloneSvg, withInk } from '@/charts/save'
import { dimensionsOf, namesOf } from './dimensions'
import { face } from './face'
import { row } from './row'
import { section } from './section'

const measured = (attribute: string, value: number) => ({ attribute, status: 'measured', value })
const small = dimensionsOf([measured('stator_diameter', 14), measured('stator_height', 4)])
const large = dimensionsOf([measured('stator_diameter', 28), measured('stator_height', 7)])

describe('several motors at one scale', () => {
  it('stand on one line with their bases level', () => {
    const frame = row([small, large])
    const bases = [small, large].map((d, at) => {
      const { box } = section(d)
      return (frame.places[at]?.sectionAt[1] ?? 0) + box.y + box.height
    })
    expect(bases[0]).toBeCloseTo(bases[1] ?? 0)
    expect(frame.places[0]?.faceAt[1]).toBe(frame.places[1]?.faceAt[1])
  })

  it('do not overlap, whatever their sizes, and fit their frame', () => {
    const motors = [large, small, large, small]
    const frame = row(motors)
    frame.places.forEach((place, at) => {
      const next = frame.places[at + 1]
      expect(place.width).toBeGreaterThanOrEqual(2 * face(motors[at] as typeof small).radius)
      if (next) expect(place.x + place.width).toBeLessThan(next.x)
      expect(place.x + place.width).toBeLessThanOrEqual(frame.width)
    })
    const lowest = (frame.places[0]?.faceAt[1] ?? 0) + face(large).radius
    expect(lowest).toBeLessThan(frame.height)
  })

  it('is empty for no motor', () => {
    expect(row([]).places).toEqual([])
  })
})

describe('what was taken over from another sample', () => {
  const over = (status: string) =>
    dimensionsOf([{ attribute: 'stator_diameter', status, value: 21.2 }], {
      code: '2205',
      basis: 'stator',
    })

  it('is drawn at its size and dashed, and named as taken over', () => {
    for (const status of ['same_as', 'inferred']) {
      expect(over(status).statorDiameter).toEqual({ value: 21.2, basis: 'taken' })
      expect(namesOf(over(status), 'taken')).toEqual(['stator diameter'])
      const stator = section(over(status)).shapes.find((shape) => shape.part === 'stator')
      expect(stator?.assumed).toBe(true)
    }
  })

  it('gives way to a measurement of its own', () => {
    const both = dimensionsOf([
      { attribute: 'stator_diameter', status: 'same_as', value: 21.2 },
      measured('stator_diameter', 21.4),
    ])
    expect(both.statorDiameter).toEqual({ value: 21.4, basis: 'measured' })
  })
})

describe('a drawing saved as a file', () => {
  it('carries its ink and its size with it', () => {
    document.body.innerHTML =
      '<style>.x{fill:rgb(1,2,3)}</style><svg viewBox="0 0 40 20"><path class="x" d="M0 0h9"/></svg>'
    const copy = withInk(document.querySelector('svg') as SVGSVGElement)
    expect(copy.querySelector('path')?.hasAttribute('class')).toBe(false)
    expect(copy.querySelector('path')?.getAttribute('style')).toContain('fill:')
    expect(sized(copy, 1000)).toEqual({ width: 1000, height: 500 })
    expect(standaloneSvg(copy, '#fff')).toMatch(/^<svg[^>]*width="1000"/)
  })
})
