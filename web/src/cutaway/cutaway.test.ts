import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import Cutaway from './Cutaway.vue'
import { airGap, contradiction, dimensionsOf, namesOf, type Seen, statorOfCode } from './dimensions'
import { face } from './face'
import { section } from './section'
import { sector } from './shapes'

const measured = (attribute: string, value: number): Seen => ({
  attribute,
  status: 'measured',
  value,
})
const FULL: Seen[] = [
  measured('stator_diameter', 21.2),
  measured('magnet_inner_diameter', 21.62),
  measured('stator_height', 5.5),
  measured('shaft_diameter', 5),
  measured('base_thickness', 2.4),
  measured('lamination_thickness', 0.2),
  { attribute: 'slot_count', status: 'observed', value: 12 },
  { attribute: 'pole_count', status: 'observed', value: 14 },
]

/** Every number pair of a path. */
function pointsOf(path: string): [number, number][] {
  const text = path.replace(/A[^MLAQZ]*/g, (arc) => {
    const parts = arc
      .slice(1)
      .trim()
      .split(/[\s,]+/)
    return `L${parts.slice(5).join(' ')}`
  })
  const numbers = (text.match(/-?\d+(\.\d+)?/g) ?? []).map(Number)
  const pairs: [number, number][] = []
  for (let i = 0; i + 1 < numbers.length; i += 2)
    pairs.push([numbers[i] as number, numbers[i + 1] as number])
  return pairs
}

const extent = (paths: string[], axis: 0 | 1) => {
  const values = paths.flatMap(pointsOf).map((point) => point[axis])
  return [Math.min(...values), Math.max(...values)] as const
}

describe('dimensions', () => {
  it('are measured, claimed by the size code or assumed, and never mixed up', () => {
    const d = dimensionsOf([measured('stator_diameter', 21.2)], { code: '2105.5', basis: 'stator' })
    expect(d.statorDiameter).toEqual({ value: 21.2, basis: 'measured' })
    expect(d.statorHeight).toEqual({ value: 5.5, basis: 'claimed' })
    expect(d.poles.basis).toBe('assumed')
    expect(namesOf(d, 'claimed')).toEqual(['stator height'])
    expect(namesOf(d, 'assumed')).toContain('magnet thickness')
  })

  it('take nothing from a size code that is not a stator', () => {
    expect(statorOfCode('4238', 'outer_can')).toBeNull()
    expect(statorOfCode('2306', 'stator')).toEqual({ diameter: 23, height: 6 })
    expect(statorOfCode('8×20', 'stator')).toBeNull()
  })

  it('give the air gap of the worked motor', () => {
    const gap = airGap(dimensionsOf(FULL))
    expect(gap.value).toBeCloseTo(0.21, 6)
    expect(gap.basis).toBe('measured')
    expect(airGap(dimensionsOf(FULL.slice(1))).basis).toBe('assumed')
  })

  it('take the flux ring from a measured bell, magnets and their inner diameter', () => {
    const d = dimensionsOf([
      ...FULL,
      measured('bell_outer_diameter', 27),
      measured('magnet_thickness', 1.4),
    ])
    expect(d.ringThickness.value).toBeCloseTo((27 - 21.62) / 2 - 1.4, 6)
    expect(d.ringThickness.basis).toBe('measured')
    expect(dimensionsOf([...FULL, measured('bell_outer_diameter', 27)]).ringThickness.basis).toBe(
      'assumed',
    )
  })

  it('put an assumed stator inside measured magnets', () => {
    const d = dimensionsOf([measured('magnet_inner_diameter', 30)])
    expect(d.statorDiameter.value).toBeLessThan(30)
    expect(contradiction(d)).toBe('')
  })

  it.each([
    ['magnet_inner_diameter', 21.0, 'does not fit'],
    ['shaft_diameter', 20, 'leaves no stator'],
    ['slot_count', 10, 'threes'],
    ['pole_count', 13, 'pairs'],
  ])('say why %s %d cannot be', (attribute, value, words) => {
    const seen = [
      ...FULL.filter((item) => item.attribute !== attribute),
      measured(attribute, value),
    ]
    expect(contradiction(dimensionsOf(seen))).toContain(words)
  })
})

describe('the half-section', () => {
  const d = dimensionsOf(FULL)
  const drawn = section(d)
  const of = (part: string) => drawn.shapes.filter((item) => item.part === part)

  it('stands at scale: stator, gap and magnets at their measured radii', () => {
    expect(
      extent(
        of('stator').map((s) => s.path),
        0,
      )[1],
    ).toBeCloseTo(10.6, 3)
    expect(
      extent(
        of('magnet').map((s) => s.path),
        0,
      )[0],
    ).toBeCloseTo(10.81, 3)
    const [top, bottom] = extent(
      of('stator').map((s) => s.path),
      1,
    )
    expect(bottom - top).toBeCloseTo(5.5, 3)
  })

  it('leaves nothing outside its box, and nothing overlapping that cannot', () => {
    const { box } = drawn
    const paths = drawn.shapes.map((item) => item.path)
    expect(extent(paths, 0)[0]).toBeGreaterThanOrEqual(box.x - 2e-3)
    expect(extent(paths, 0)[1]).toBeLessThanOrEqual(box.x + box.width + 2e-3)
    expect(extent(paths, 1)[0]).toBeGreaterThanOrEqual(box.y - 2e-3)
    expect(extent(paths, 1)[1]).toBeLessThanOrEqual(box.y + box.height + 2e-3)
    const windings = extent(
      of('winding').map((s) => s.path),
      1,
    )
    expect(windings[1]).toBeLessThan(
      extent(
        of('base').map((s) => s.path),
        1,
      )[0],
    )
    expect(windings[0]).toBeGreaterThan(
      extent(
        of('bell').map((s) => s.path),
        1,
      )[1],
    )
  })

  it('has the true number of laminations, or every few of very many', () => {
    expect(drawn.laminations.y).toHaveLength(27)
    expect(drawn.laminations.assumed).toBe(false)
    const thin = section(
      dimensionsOf([...FULL.slice(0, 5), measured('lamination_thickness', 0.05)]),
    )
    expect(thin.laminations.y.length).toBeLessThanOrEqual(90)
  })

  it('dashes what was not measured and only that', () => {
    expect(of('stator').every((item) => !item.assumed)).toBe(true)
    expect(of('shaft').every((item) => item.assumed)).toBe(true)
    const long = section(dimensionsOf([...FULL, measured('shaft_free_length', 14)]))
    expect(long.shapes.find((item) => item.part === 'shaft')?.assumed).toBe(false)
    expect(long.box.y).toBe(-14)
    expect(of('winding').every((item) => item.assumed)).toBe(true)
    expect(of('ring').every((item) => item.assumed)).toBe(true)
    const half = section(dimensionsOf([], { code: '2207', basis: 'stator' }))
    expect(half.shapes.every((item) => item.assumed)).toBe(true)
  })

  it('takes base, magnets and mounting from what was measured outside', () => {
    const cut = section(
      dimensionsOf([
        ...FULL,
        measured('base_diameter', 24),
        measured('magnet_height', 8),
        measured('mount_circle', 16),
        measured('mount_thread', 3),
      ]),
    )
    const pathOf = (part: string) =>
      cut.shapes.filter((item) => item.part === part).map((item) => item.path)
    expect(extent(pathOf('base'), 0)[1]).toBeCloseTo(12)
    const [top, bottom] = extent(pathOf('magnet'), 1)
    expect(bottom - top).toBeCloseTo(8)
    const [left, right] = extent(pathOf('screw'), 0)
    expect((left + right) / 2).toBeCloseTo(8)
  })

  it('steps the shaft where it is thinner inside the bearings', () => {
    const thin = section(dimensionsOf([...FULL, measured('shaft_inner_diameter', 4)]))
    const shaft = thin.shapes.find((item) => item.part === 'shaft')
    const radii = new Set(pointsOf(shaft?.path ?? '').map(([x]) => Math.abs(x)))
    expect([...radii].sort()).toEqual([2, 2.5])
    const bearing = thin.shapes.filter((item) => item.part === 'bearing').map((s) => s.path)
    expect(extent(bearing, 0)[0]).toBeCloseTo(2, 3)
  })

  it('shows a bore only in a shaft that was seen to be hollow', () => {
    expect(of('bore')).toHaveLength(0)
    const hollow = section(
      dimensionsOf([...FULL, { attribute: 'shaft_type', status: 'observed', choice: 'hollow' }]),
    )
    expect(hollow.shapes.some((item) => item.part === 'bore')).toBe(true)
  })
})

describe('the face view', () => {
  it.each([
    [12, 14],
    [9, 12],
    [24, 28],
  ])('has %d teeth and %d magnets', (slots, poles) => {
    const seen = [
      ...FULL.slice(0, 6),
      { attribute: 'slot_count', status: 'observed', value: slots },
      { attribute: 'pole_count', status: 'observed', value: poles },
    ]
    const { shapes } = face(dimensionsOf(seen))
    expect(shapes.filter((item) => item.part.startsWith('magnet'))).toHaveLength(poles)
    expect(shapes.filter((item) => item.part === 'magnet north')).toHaveLength(poles / 2)
    // A stem and a shoe each, and the hub's ring.
    expect(shapes.filter((item) => item.part === 'stator')).toHaveLength(2 * slots + 1)
    expect(shapes.filter((item) => item.part === 'winding')).toHaveLength(2 * slots)
  })

  it.each(['arc', 'flat'])('keeps %s magnets out of the air gap and inside the ring', (choice) => {
    const d = dimensionsOf([...FULL, { attribute: 'magnet_shape', status: 'observed', choice }])
    const drawn = face(d)
    for (const item of drawn.shapes.filter((s) => s.part.startsWith('magnet'))) {
      const radii = pointsOf(item.path).map(([x, y]) => Math.hypot(x, y))
      expect(Math.min(...radii)).toBeGreaterThanOrEqual(d.magnetInner.value / 2 - 1e-3)
      expect(Math.max(...radii)).toBeLessThanOrEqual(drawn.radius + 1e-3)
    }
  })

  it('keeps coils between their teeth, short of the air gap', () => {
    const d = dimensionsOf(FULL)
    const pitch = (2 * Math.PI) / 12
    face(d)
      .shapes.filter((item) => item.part === 'winding')
      .forEach((item, index) => {
        const middle = Math.floor(index / 2) * pitch
        for (const [x, y] of pointsOf(item.path)) {
          expect(Math.hypot(x, y)).toBeLessThan(d.statorDiameter.value / 2)
          let off = Math.atan2(y, x) - middle
          off = Math.atan2(Math.sin(off), Math.cos(off))
          expect(Math.abs(off)).toBeLessThanOrEqual(pitch / 2 + 2e-3)
        }
      })
  })
})

it('a sector is closed and ends on its radii', () => {
  const points = pointsOf(sector(2, 3, 0, Math.PI / 2))
  expect(points[0]).toEqual([2, 0])
  expect(points[1]).toEqual([3, 0])
  expect(points[2]?.[1]).toBeCloseTo(3, 3)
  expect(points[3]?.[1]).toBeCloseTo(2, 3)
})

describe('the drawing', () => {
  const props = { seen: FULL, size: { code: '2105.5', basis: 'stator' }, name: 'Sable' }

  it('says in words what it shows', () => {
    const page = mount(Cutaway, { props })
    expect(page.get('svg').attributes('aria-label')).toBe(
      'Sable to scale: half-section, face with 12 slots, 14 poles, air gap 0.21 mm',
    )
    expect(page.get('figcaption').text()).toContain('magnet thickness')
    expect(page.get('path.winding title').text()).toBe('winding; not measured')
    expect(page.get('path.stator title').text()).toBe('stator')
  })

  it('follows what is being typed', async () => {
    const page = mount(Cutaway, { props })
    const seen = [...FULL.filter((s) => s.attribute !== 'slot_count'), measured('slot_count', 24)]
    await page.setProps({ seen })
    expect(page.get('svg').attributes('aria-label')).toContain('24 slots')
  })

  it('draws nothing that cannot be, and says why', async () => {
    const page = mount(Cutaway, { props: { ...props, seen: [measured('pole_count', 13)] } })
    expect(page.find('svg').exists()).toBe(false)
    expect(page.get('[role=status]').text()).toBe('Magnets come in pairs.')
    await page.setProps({ seen: FULL, size: { code: '8×20', basis: 'case' } })
    expect(page.get('[role=status]').text()).toContain('brushed can')
  })

  it('of a motor nobody opened is all dashed, and claims are told apart', () => {
    const page = mount(Cutaway, { props: { ...props, seen: [] } })
    expect(page.findAll('path.stator:not(.assumed)')).toHaveLength(1)
    expect(page.get('figcaption').text()).toContain(
      'stator diameter, stator height by the size code',
    )
  })
})
