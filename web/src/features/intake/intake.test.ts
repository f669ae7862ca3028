import { describe, expect, it } from 'vitest'
import { photoFault } from '@/features/photos/photoFile'
import { aMotorFile } from '@/tests/mounting'
import { propPicture, screwPicture } from './fitDrawing'
import { outside, OUTSIDE_KEYS } from './outside'
import { done, STEPS, stepAfter } from './steps'
import { asRead, claimFault, lastDigit, massFault, optional } from './typed'

describe('the motor from outside', () => {
  const code = { diameter: 22, height: 6 }
  const bare = outside({}, code)
  const at = (drawing: typeof bare, key: string) => drawing.callouts.find((c) => c.key === key)

  it('asks for every dimension it draws, and draws none it does not ask for', () => {
    for (const callout of bare.callouts) expect(OUTSIDE_KEYS).toContain(callout.key)
    expect(new Set(bare.callouts.map((c) => c.key)).size).toBe(bare.callouts.length)
    expect(bare.callouts.every((callout) => !callout.measured)).toBe(true)
  })

  it('draws to scale what is measured', () => {
    const known = {
      bell_outer_diameter: 28,
      body_height: 18,
      shaft_diameter: 5,
      shaft_free_length: 13,
    }
    const drawing = outside(known, code)
    const bell = drawing.side.find((piece) => piece.part === 'bell')
    expect(bell?.path).toMatch(/^M-14 0h28v/)
    expect(bell?.measured).toBe(true)
    expect(drawing.side.find((piece) => piece.part === 'shaft')?.path).toBe('M-2.5 -13h5v13h-5Z')
    expect(at(drawing, 'bell_outer_diameter')?.measured).toBe(true)
    expect(drawing.side.find((piece) => piece.part === 'base')?.measured).toBe(false)
  })

  it('has as many mounting holes as were counted, on two circles where there are two', () => {
    const holes = (known: object) =>
      outside({ mount_circle: 16, ...known }, code).below.filter((piece) => piece.part === 'hole')
    expect(holes({ mount_hole_count: 6 })).toHaveLength(6)
    const radii = holes({ mount_circle_second: 19, mount_thread: 3 }).map((hole) => {
      const [x = 0, y = 0] = (/^M(-?[\d.]+) (-?[\d.e-]+)/.exec(hole.path) ?? [])
        .slice(1)
        .map(Number)
      return Math.round(2 * Math.hypot(x + 1.5, y))
    })
    expect(radii).toEqual([16, 19, 16, 19])
    expect(at(outside({ mount_circle_second: 19 }, code), 'mount_circle_second')).toBeDefined()
    expect(at(bare, 'mount_circle_second')).toBeUndefined()
  })

  it('keeps every number inside its frame', () => {
    for (const known of [{}, { total_height: 60, body_height: 40, bell_outer_diameter: 60 }]) {
      const drawing = outside(known, code)
      for (const callout of drawing.callouts) {
        expect(callout.x).toBeGreaterThan(0)
        expect(callout.x).toBeLessThan(drawing.box.width)
        expect(callout.y).toBeGreaterThan(0)
        expect(callout.y).toBeLessThan(drawing.box.height)
      }
    }
  })

  it('draws a motor without a stator code too', () => {
    expect(outside({}, null).side.length).toBeGreaterThan(3)
  })
})

describe('the fit drawings', () => {
  const screw = { length: 8, arm: 4, washer: 0, depth: 2.5, clearance: 1.2, thread: 3 }
  it('ends the screw where arithmetic says', () => {
    const picture = screwPicture(screw)
    // 8 − 4 = 4.0 mm of reach; thread 2.5 + clearance 1.2 = 3.7 mm: 0.3 mm inside the winding.
    expect(picture.tip).toBe(4)
    expect(picture.windingAt).toBeCloseTo(3.7)
    const block = picture.blocks.find((one) => one.part === 'screw')
    expect([block?.y, block?.height]).toEqual([-4, 8])
    expect(picture.blocks.some((one) => one.part === 'washer')).toBe(false)
  })
  it('puts a washer between head and arm', () => {
    const picture = screwPicture({ ...screw, washer: 0.5 })
    expect(picture.tip).toBe(3.5)
    expect(picture.blocks.find((one) => one.part === 'head')?.y).toBe(4.5)
  })
  it('nests rings between shaft and hub, and seats the nut on the taller', () => {
    const fit = {
      shaft: 5,
      free: 14,
      bore: 8,
      hub: 6,
      nut: 4,
      washer: 0.5,
      rings: [{ inner_mm: 5, outer_mm: 8, height_mm: 6.5 }],
    }
    const picture = propPicture(fit)
    const rings = picture.blocks.filter((block) => block.part === 'ring')
    expect(rings.map((ring) => [ring.x, ring.width])).toEqual([
      [-4, 1.5],
      [2.5, 1.5],
    ])
    expect(picture.blocks.find((block) => block.part === 'nut')?.y).toBe(-11)
    const screws = { circle: 9, thread: 2, holeCircle: 9, hole: 2.1 }
    const held = propPicture({ ...fit, nut: 0, rings: [], screws })
    expect(held.blocks.filter((block) => block.part === 'screw').map((block) => block.x)).toEqual([
      -5.5, 3.5,
    ])
    expect(
      held.blocks.filter((block) => block.part === 'room').every((block) => block.width === 2.1),
    ).toBe(true)
    expect(propPicture({ ...fit, nut: 0 }).blocks.some((block) => block.part === 'nut')).toBe(false)
  })
})

describe('what is typed at intake', () => {
  it('is a number, nothing, or neither', () => {
    expect([optional(' 6,5 '), optional(''), optional('six')]).toEqual([6.5, null, undefined])
  })
  it('is asked back when its unit slipped', () => {
    expect(massFault('28,6')).toBe('')
    expect(massFault('28000')).toContain('Did you mean 28 g?')
    expect(massFault('0.03')).toContain('0.5 to 2000 g')
    expect(massFault('heavy')).toContain('in grams')
  })
  it('carries the resolution of its last digit', () => {
    expect(['28.60', '28,6', '28', '28.605'].map(lastDigit)).toEqual([0.01, 0.1, 1, 0.001])
    expect([asRead(25, 0.01), asRead(25.4, 0.1), asRead(25, 1)]).toEqual(['25.00', '25.4', '25'])
  })
  it('is held against the range of its claim', () => {
    const mass = { label: 'Mass', unit: 'g', low: 0.5, high: 2000, words: false }
    expect(claimFault(mass, '28000')).toContain('check the unit')
    expect(claimFault(mass, 'heavy')).toContain('a number in g')
    expect(claimFault(mass, '')).toBe('')
    expect(claimFault({ ...mass, words: true }, 'sealed')).toBe('')
  })
  it('is no photo when it is no picture, empty, or too large', () => {
    expect(photoFault({ size: 10, type: 'image/jpeg' })).toBe('')
    expect(photoFault({ size: 0, type: 'image/jpeg' })).toContain('empty')
    expect(photoFault({ size: 12_500_000, type: 'image/png' })).toContain('12.5 MB')
    expect(photoFault({ size: 10, type: 'text/html' })).toContain('not a picture')
  })
})

describe('the steps of intake', () => {
  const of = (changed: object, answered: string[] = []) =>
    STEPS.filter((step) =>
      done(step.key, { file: aMotorFile(changed) as never, answered: new Set(answered) }),
    ).map((step) => step.key)

  it('are done when the next stations have what they need', () => {
    expect(of({})).toEqual([])
    const claims = [{ quantity: 'mass_g' }]
    expect(of({ claims })).toEqual(['claims'])
    expect(of({ claims, remarks: [{ state: 'missing', code: '', message: '' }] })).toEqual([])
    const needed = [
      'shaft_diameter',
      'shaft_free_length',
      'mount_circle',
      'thread_depth',
      'screw_clearance',
    ]
    expect(of({}, needed)).toEqual(['outside', 'fit'])
  })
  it('follow each other to the teardown', () => {
    expect(stepAfter('parcel')?.key).toBe('claims')
    expect(stepAfter('peers')).toBeNull()
  })
})
