import { afterEach, describe, expect, it } from 'vitest'
import { serve, show } from '@/tests/mounting'
import SampleThumb from './SampleThumb.vue'

afterEach(() => serve({}))

const sheet = (rest: object) => ({ observations: [], findings: [], not_applicable: [], ...rest })
const measured = (attribute: string, value: number) => ({ attribute, status: 'measured', value })
const props = { sample: 7, name: 'Drift A', size: { code: '2206', basis: 'stator' } }
const open = async (answer: object) => {
  serve({ 'GET /api/v1/samples/7/teardown/': answer })
  return (await show(SampleThumb, { props })).page
}

describe('the small picture of a motor', () => {
  it('is its half-section, framed by its own size', async () => {
    const page = await open(sheet({ observations: [measured('shaft_free_length', 20)] }))
    const svg = page.get('svg')
    expect(svg.attributes('aria-label')).toBe('Drift A, cut open')
    expect(Number(svg.attributes('viewBox')?.split(' ')[1])).toBeCloseTo(-20.5)
    expect(page.findAll('path.stator').length).toBeGreaterThan(0)
  })

  it('is not there for a can, for numbers that contradict each other, or without the server', async () => {
    const can = sheet({ not_applicable: [{ attribute: 'slot_count', reason: 'a can' }] })
    expect((await open(can)).find('svg').exists()).toBe(false)
    const odd = sheet({ observations: [measured('pole_count', 13)] })
    expect((await open(odd)).find('svg').exists()).toBe(false)
    serve({})
    expect((await show(SampleThumb, { props })).page.find('svg').exists()).toBe(false)
  })
})
